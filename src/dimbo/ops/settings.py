"""Configuration of an installation, from environment variables that start with DIMBO_."""

from __future__ import annotations

from pathlib import Path

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

ROOT = Path(__file__).resolve().parents[3]


class Settings(BaseSettings):
    """docs/architecture.md lists the same variables."""

    model_config = SettingsConfigDict(env_prefix="DIMBO_")

    database_url: str = Field(default="", description="PostgreSQL as the role dimbo_app")
    owner_url: str = Field(default="", description="PostgreSQL as the owner of the schema; migrations only")
    host: str = "127.0.0.1"
    port: int = 8420
    ui_folder: Path = ROOT / "ui/build"
    secure_cookie: bool = Field(default=False, description="set to true behind https")
    stand_in_camera: bool = Field(default=False, description="offer the stand-in camera instead of a real one")
    session_days: int = 30
