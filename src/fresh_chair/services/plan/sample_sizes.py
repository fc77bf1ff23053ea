"""How many people a study needs: the limits of the planned number at each chair, in two closed formulas."""

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.aims import AIMS, Aim
from fresh_chair.core.plan.orders import chairs_for
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class Numbers:
    """The power of a number of people.

    Attributes:
        planned: The fewest people who sit at any one chair.
    """

    planned: int
    aims: tuple[Aim, ...] = AIMS

    def needed(self, aim: Aim) -> int:
        """The fewest people at each chair that reach an aim."""
        from fresh_chair.core.figures.sample_size import people_for

        return people_for(aim)

    def points(self, aim: Aim, most: int) -> list[tuple[int, float]]:
        """The power of each number from 2 on."""
        from fresh_chair.core.figures.sample_size import reached

        return [(people, reached(aim, people)) for people in range(2, most + 1)]

    def said(self, people: int) -> tuple[str, ...]:
        """The power and limits of this many people, in sentences."""
        from fresh_chair.core.words.planning.sample_sizes import aim_sentence, power_sentences

        verdicts = (aim_sentence(aim, people, self.needed(aim)) for aim in self.aims)
        return (*power_sentences(people, self.aims[0]), *verdicts)


def numbers(opened: StudyReading) -> Numbers:
    """The study's planned number."""
    study = opened.study
    taking_part = [person for person in study.people if person.counts and not person.left]
    counts = [sum(chair in chairs_for(study, person) for person in taking_part) for chair in study.chairs] or [
        len(taking_part)
    ]
    return Numbers(min(counts))
