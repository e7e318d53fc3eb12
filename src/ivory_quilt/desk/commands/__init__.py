"""Commands as data: menus, keys, the palette, the shortcuts page and tests come from one list."""
