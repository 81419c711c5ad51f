"""How many examples a property gets: a share of the profile's, so that one flag makes every test longer or shorter."""

from hypothesis import HealthCheck, settings


def examples(share: float, *but: HealthCheck) -> settings:
    """Settings with ``share`` times the profile's examples, and health checks that do not apply."""
    return settings(max_examples=max(1, round(share * settings.default.max_examples)), suppress_health_check=but)
