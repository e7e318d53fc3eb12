"""Pattern: pieces at true size."""
