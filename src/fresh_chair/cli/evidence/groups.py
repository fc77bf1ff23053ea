"""`references`, `against`, `changes`, `inventory`, `links`, ...: a group of commands for each kind of evidence."""

from fresh_chair.cli.evidence.study_records import add_grid, add_links_of, add_predictions, add_succession, group_of

references = group_of("reference", "References: named things that chairs are compared with and nobody sits at here.")
against = group_of(
    "against", "Comparisons: better, worse, as it was, new here, gone, ... against a reference or a chair."
)
changes = group_of("change", "Changes that a release brings, announced or found.")
add_succession(changes)
inventory = group_of("inventory", "What is there for a purpose at each chair, and what is not.")
add_grid(inventory)
links = group_of("link", "Links: because of, excused by, contradicts, speaks for, speaks against, mended by, same as.")
add_links_of(links)
forecast = group_of("forecast", "Forecasts: what will happen, by when, how sure; sealed, and what came of them.")
add_predictions(forecast)
advice = group_of("advice", "Advice to people, to makers, to oneself.")
disclosure = group_of("disclosure", "On which terms each chair was had, and what its edition costs.")
paragraph = group_of("paragraph", "Your own paragraphs in documents: a foreword, a remark at a section or figure.")
choice = group_of("choice", "Quotes and pictures that are shown first in documents, or left out.")
reply = group_of("reply", "Makers' answers to a draft.")
