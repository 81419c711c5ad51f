"""The catalogue: exercises, muscles and concerns as data files with a validated schema."""

from .load import Catalogue, CatalogueError, Concern, load_catalogue, shipped_catalogue

__all__ = ["Catalogue", "CatalogueError", "Concern", "load_catalogue", "shipped_catalogue"]
