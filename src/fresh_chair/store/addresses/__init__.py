"""Where a study is: a path, or a server and a name; it picks the store, and so stands above all of them."""
