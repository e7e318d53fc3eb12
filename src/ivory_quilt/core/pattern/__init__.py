"""Pieces as the maker drew them, and the parts that are cut from them."""
