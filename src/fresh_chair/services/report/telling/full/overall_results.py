"""Results over all tasks, satisfaction, and how far observers and raters agree."""

from collections.abc import Iterator

from fresh_chair.core.figures.agreement import ordinal_alpha
from fresh_chair.core.words.findings import discovery_words
from fresh_chair.core.words.groups import group_sentences, own_scale_sentences
from fresh_chair.core.words.machine import elapsed_sentences
from fresh_chair.core.words.turning import turning_sentences
from fresh_chair.services.findings.observers import observed_sittings, observers_of
from fresh_chair.services.findings.page import discovery_of
from fresh_chair.services.report.telling import results
from fresh_chair.services.report.telling.quotes import choices_of, may_quote, quotation
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Listing, Paragraph, Run, Section, Table, Text


def overall_section(told: ToldStudy) -> Section:
    """Chairs compared over all tasks, with every number; whether it would turn; groups; the machine's share."""
    say = told.words.say
    parts = [
        Section("thresholds", say("Good enough?"), tuple(results.threshold_blocks(told))),
        Section(
            "comparisons",
            say("Chairs compared"),
            (*results.charts_of(told, "overall", "fared_better"), *results.overall_blocks(told)),
        ),
        Section("turning", say("Would it turn?"), tuple(_turning(told))),
        Section("groups", say("By group of people"), tuple(_listed(group_sentences(told.weighing, told.words)))),
        Section("machine", say("The machine's share"), tuple(_machine(told))),
        Section("routes", say("The ways people went"), tuple(_routes(told))),
    ]
    kept = tuple(part for part in parts if part.blocks)
    return Section("results-overall", say("Results over all tasks"), (), kept)


def _turning(told: ToldStudy) -> Iterator[Block]:
    if told.turning is not None:
        said = turning_sentences(told.weighing, told.turning, told.words)
        yield Listing(tuple((Run(each),) for each in said))


def _listed(groups: list[tuple[str, tuple[str, ...]]]) -> Iterator[Block]:
    for heading, sentences in groups:
        yield Paragraph((Run(heading, "strong"),))
        yield Listing(tuple((Run(each),) for each in sentences))


def _machine(told: ToldStudy) -> Iterator[Block]:
    say = told.words.say
    heads = (
        say("chair"),
        say("attempts"),
        say("of the elapsed time"),
        say("longest without a sign"),
        say("restarts"),
        say("hands time"),
        say("elapsed time"),
    )
    rows = []
    for each in told.weighing.machine:
        if each.card or each.chair not in told.titles:
            continue
        letter = each.chair
        share = None if each.share is None else 100 * each.share
        rows.append(
            (
                (Run(told.titles[letter]),),
                (Run(str(each.attempts), id=f"timed/{letter}"),),
                (told.number(share, ".0f", f"waits/{letter}", unit=" %"),),
                (told.number(each.longest_silent_seconds, ".0f", f"silent/{letter}", unit=" s"),),
                (Run(str(each.restarts), id=f"restarts/{letter}"),),
                results.estimate_text(told, each.completed_hands, f"hands/{letter}", shape=".0f", unit=" s"),
                results.estimate_text(told, each.completed_elapsed, f"elapsed/{letter}", shape=".0f", unit=" s"),
            )
        )
    if rows:
        yield Table(tuple((Run(head),) for head in heads), tuple(rows))
        yield from results.charts_of(told, "waits")
        yield Listing(tuple((Run(each),) for each in elapsed_sentences(told.weighing, told.words)))


def _routes(told: ToldStudy) -> Iterator[Block]:
    found = [each for each in told.weighing.routes if each.attempts]
    if not found:
        return
    titles = {card.id: card.title for card in told.study.cards}
    rows = []
    for each in found:
        at = f"{each.card}/{each.chair}"
        rows.append(
            (
                (Run(f"{titles.get(each.card, each.card)}, {told.titles[each.chair]}"),),
                (Run(str(each.attempts), id=f"ways/{at}"),),
                (results.rate_text(told, each.first_right, f"first-choice/{at}")),
                (results.estimate_text(told, each.lostness, f"lostness/{at}", shape=".2f")),
            )
        )
    say = told.words.say
    heads = (say("task and chair"), say("attempts"), say("first choice right"), say("lostness"))
    yield Table(tuple((Run(head),) for head in heads), tuple(rows))
    yield from results.charts_of(told, "routes")


def satisfaction_section(told: ToldStudy) -> Section:
    """The usability scale at each chair, the study's own scales, and which chair people would rather have."""
    blocks: list[Block] = []
    rows = []
    for each in told.weighing.satisfaction:
        scores = ", ".join(
            f"{code} {told.words.number(score.score)}" for code, score in each.scores if score.score is not None
        )
        mean = results.estimate_text(told, each.mean, f"satisfaction/{each.chair}", shape=".0f")
        rows.append(((Run(told.titles[each.chair]),), mean, (Run(scores),)))
    if rows:
        say = told.words.say
        heads = (say("chair"), say("System Usability Scale"), say("each person's"))
        blocks.append(Table(tuple((Run(head),) for head in heads), tuple(rows)))
    blocks += _listed(own_scale_sentences(told.weighing, told.words))
    blocks += _preference(told)
    blocks += own_words(told)
    if not blocks:
        blocks.append(Paragraph(told.prose.say("Nobody was asked yet.")))
    return Section("satisfaction", told.words.say("Satisfaction"), tuple(blocks))


def _preference(told: ToldStudy) -> Iterator[Block]:
    found = told.weighing.preference
    if found is None:
        return
    yield Paragraph(
        told.prose.count(
            "{count} person put all chairs in order.", "{count} people put all chairs in order.", found.people
        )
    )
    rows: list[tuple[Text, ...]] = [
        ((Run(told.titles[letter]),), (told.number(rank, ".2f", f"preferred/{letter}"),))
        for letter, rank in found.mean_ranks.items()
    ]
    if rows:
        heads = ((Run(told.words.say("chair")),), (Run(told.words.say("mean place, 1 is best")),))
        yield Table(heads, tuple(rows))
    for pair in found.pairs:
        p = "–" if pair.p_adjusted is None else told.words.number(pair.p_adjusted, ".3f")
        yield Paragraph(
            told.prose.say(
                "{x} would rather have {first}, {y} {second} (p {p} after Holm).",
                x=Run(str(pair.for_first), id=f"preferred/{pair.first}-{pair.second}"), y=pair.for_second,
                first=told.titles[pair.first], second=told.titles[pair.second], p=p,
            )
        )  # fmt: skip


def own_words(told: ToldStudy) -> Iterator[Block]:
    """Everything that people said in their own words, of those who agreed to being quoted."""
    chosen = choices_of(told)
    quoted = [
        each
        for each in told.found.observations
        if each.kind == "quote"
        and each.words
        and may_quote(told.opened, each.participant)
        and chosen.get(each.target) != "left out"
    ]
    if quoted:
        yield Paragraph(told.prose.say("In people's own words:"))
        yield from (quotation(told, each) for each in quoted)


def agreement_section(told: ToldStudy) -> Section:
    """How far observers and raters agree, and how many problems are likely still unseen."""
    blocks: list[Block] = []
    seen = [observers_of(told.opened, number) for number in observed_sittings(told.opened)]
    for each in seen:
        agreed = "–" if each.agreement is None else told.words.number(100 * each.agreement, ".0f")
        blocks.append(
            Paragraph(
                told.prose.say(
                    "Sitting {sitting}, {observers} observers beside the moderator: of the marks of any two, both made "
                    "{share} % within {window} s.",
                    sitting=each.sitting, observers=len(each.observers), share=agreed,
                    window=f"{each.window_seconds:g}",
                )
            )
        )  # fmt: skip
    if seen:
        kappa = seen[0].study_kappa
        value = told.words.say("undefined") if kappa is None else told.words.number(kappa, ".2f")
        attempts = seen[0].study_attempts
        blocks.append(
            Paragraph(told.prose.say("Cohen's kappa over {count} outcomes: {value}.", count=attempts, value=value))
        )
    units = [[r.severity for r in view.finding.ratings.values() if r.blind] for view in told.found.findings]
    units = [unit for unit in units if len(unit) > 1] if told.opened.findings.settling else []
    if units:
        alpha = ordinal_alpha(units).value
        value = told.words.say("undefined") if alpha is None else told.words.number(alpha, ".2f")
        blocks.append(
            Paragraph(
                told.prose.count(
                    "Severities of raters who saw no other's, over {count} finding: Krippendorff's alpha {value}.",
                    "Severities of raters who saw no other's, over {count} findings: Krippendorff's alpha {value}.",
                    len(units), value=Run(value, id="alpha"),
                )
            )
        )  # fmt: skip
    if told.found.findings and not told.walks_only:
        said = discovery_words(discovery_of(told.opened, told.found), told.words)
        blocks += [*results.charts_of(told, "discovery"), Listing(tuple((Run(each),) for each in said))]
    return Section("agreement", told.words.say("Agreement and discovery"), tuple(blocks))
