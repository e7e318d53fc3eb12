"""What the operating system gives: processes of our own, folders that can be written."""
