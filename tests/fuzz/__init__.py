"""Mutated files of every kind, each read apart: refused in a sentence, or read; never worse."""
