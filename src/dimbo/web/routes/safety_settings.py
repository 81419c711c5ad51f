"""Safety settings of a practice: the emergency number, and confirmed starting values."""

from __future__ import annotations

from fastapi import APIRouter

from dimbo.core.safety.starting_values import STARTING_VALUES
from dimbo.store.programs.confirmed_values import Confirmation
from dimbo.web.context import Coach, Ctx, Senior
from dimbo.web.schemas import program_files as s
from dimbo.work.programs import safety_settings

router = APIRouter(prefix="/api/settings/safety", tags=["safety"])


@router.get("", operation_id="safety")
def safety(coach: Coach, ctx: Ctx) -> s.CareView:
    found = safety_settings.of_practice(ctx.db, coach)
    return s.CareView(
        emergency_number=found.emergency_number,
        values=[
            s.StartingValueView(
                id=v.id,
                name=v.name,
                ships=v.ships,
                why=v.why,
                loosens=bool(v.setting),
                confirmed=s.ConfirmationView.model_validate(c) if (c := found.confirmed.get(v.id)) else None,
            )
            for v in STARTING_VALUES.values()
        ],
    )


@router.put("/number", operation_id="setEmergencyNumber", status_code=204)
def number(body: s.NumberRequest, coach: Senior, ctx: Ctx) -> None:
    safety_settings.set_number(ctx.db, coach, body.emergency_number)


@router.post("/values/{value}", operation_id="confirmStartingValue", status_code=204)
def confirm(value: str, body: s.ConfirmRequest, coach: Senior, ctx: Ctx) -> None:
    safety_settings.confirm(
        ctx.db, coach, body.id, Confirmation(value, by_name=body.by_name, role=body.role, confirmed_on=body.confirmed_on), ctx.now
    )
