"""Files that ship with the application: fonts and icons."""
