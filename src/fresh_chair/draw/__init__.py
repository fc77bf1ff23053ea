"""Charts: figures in, matplotlib Figures out, saved as SVG and PDF that are the same every time."""
