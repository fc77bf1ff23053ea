"""The machine under the program: its clock, files, editor, the reviewer's own keys, crash reports."""
