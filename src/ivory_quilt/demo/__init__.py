"""The demo suit: a stag-beetle warden's armour for a garden's night parade."""
