"""How far the writing of documents is, in sentences that are each said once."""

from dataclasses import dataclass, field

from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import count_of, legible
from fresh_chair.services.report.writing import WritingJob
from fresh_chair.services.system.files import Written


@frozen
class JobWords:
    """A sentence about a job, and its colour; empty for a problem, which is told as such."""

    words: str
    colour: str = "$lamp"


@dataclass
class JobFollower:
    """Follows one job after the other.

    Attributes:
        written: The files of the last job that came to its end.
    """

    written: list[Written] = field(default_factory=list)
    _told: int = 0

    def said(self, job: WritingJob) -> JobWords | None:
        """The next sentence about a job; None where there is nothing new. A bug of its is raised."""
        if job.bug is not None:
            raise job.bug
        if job.running:
            if len(job.written) <= self._told:
                return None
            self._told = len(job.written)
            return JobWords(f"written: {legible(job.written[-1].path.name)}")
        if job.problem is not None:
            return JobWords("")
        if not job.done:
            return JobWords("Stopped. Nothing of it was written.")
        self.written = list(job.written)
        return JobWords(f"{count_of(len(job.written), 'file')} in {legible(str(job.folder))}.", "$moss")
