"""Files on their way in: read by their kind, then waiting for what only the maker can say."""
