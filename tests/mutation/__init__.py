"""Mutation testing of the core's rules: `./quilt mutate` (docs/mutation.md has the figures)."""
