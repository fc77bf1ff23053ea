"""A sitting on the screen: the base that draws it, its keys, and the parts whose acts they name."""
