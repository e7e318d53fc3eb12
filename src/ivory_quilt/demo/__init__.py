"""The demo suit: a stag-beetle lamplighter's armour for a garden's night parade."""
