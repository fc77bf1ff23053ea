"""Small widgets: state comes down as view models, events go up as messages."""
