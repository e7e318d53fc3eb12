"""The Measure station: who will wear it, and patterns sized to them."""
