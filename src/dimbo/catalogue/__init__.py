"""The catalogue: exercises, muscles, concerns and the intake's tables as data files with a validated schema."""

from .intake_tables import IntakeTables, load_intake_tables, shipped_intake
from .load import Catalogue, CatalogueError, dangling, load_catalogue, make_card, shipped_catalogue, unsound

__all__ = [
    "Catalogue",
    "CatalogueError",
    "IntakeTables",
    "dangling",
    "load_catalogue",
    "load_intake_tables",
    "make_card",
    "shipped_catalogue",
    "shipped_intake",
    "unsound",
]
