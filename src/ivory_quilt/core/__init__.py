"""The core: no Qt, no file access, no clock; numbers in, numbers out."""
