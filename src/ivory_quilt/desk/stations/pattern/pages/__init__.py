"""The page table: pages of a pattern laid side by side, by their marks or by hand."""
