"""The weekly review and its thresholds, opened weeks, the client's own course, and the tables that are carried out."""

from __future__ import annotations

from datetime import date
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Depends, Response

from dimbo.core.review.weekly import Verdict
from dimbo.web.context import Client, Coach, Ctx, Noting, Senior, Written, plain
from dimbo.web.files import Csv, Workbook
from dimbo.web.schemas import review as r
from dimbo.web.views import review as views
from dimbo.work.practice import own_course
from dimbo.work.review import course, deciding, open_week, reviewing, tables_out, thresholds
from dimbo.work.shared.tables import as_csv

router = APIRouter(prefix="/api", tags=["review"])


@router.get("/assignments/{assignment_id}/review", operation_id="review", response_model=r.ReviewView)
def review(assignment_id: UUID, coach: Coach, ctx: Ctx, first_day: date | None = None) -> Response:
    return plain(views.review(reviewing.look(ctx.db, coach, assignment_id, first_day, ctx.now)))


def _decision(body: r.DecisionRequest) -> reviewing.Decision:
    verdicts = {k: Verdict(v) for k, v in body.verdicts.items()}
    return reviewing.Decision(
        id=body.id, first_day=body.first_day, verdicts=verdicts, bias=tuple(body.bias), reason=body.reason, words=body.words
    )


@router.post("/assignments/{assignment_id}/review/check", operation_id="checkReview")
def check(assignment_id: UUID, body: r.DecisionRequest, coach: Coach, ctx: Ctx) -> r.CheckedView:
    """What would become of a decision; nothing is kept."""
    return views.checked(deciding.check(ctx.db, coach, assignment_id, _decision(body), ctx.now))


@router.post("/assignments/{assignment_id}/review", operation_id="decideReview", status_code=201)
def decide(assignment_id: UUID, body: r.DecisionRequest, coach: Coach, ctx: Ctx) -> r.DecidedView:
    kept = deciding.confirm(ctx.db, coach, assignment_id, _decision(body), ctx.now)
    return r.DecidedView(
        id=kept.id, decided=views.verdict(kept.decided["whole"]), holds_from=kept.holds_from, program_version=kept.program_version
    )


@router.get("/settings/review", operation_id="reviewRules")
def review_rules(coach: Coach, ctx: Ctx) -> r.ThresholdsView:
    return views.thresholds(thresholds.of_practice(ctx.db, coach))


@router.put("/settings/review", operation_id="setReviewRules", status_code=204)
def set_review_rules(body: r.ThresholdsRequest, coach: Senior, ctx: Ctx) -> None:
    thresholds.keep(ctx.db, coach, body.values)


@router.post("/settings/review/preview", operation_id="previewReviewRules")
def preview_review_rules(body: r.ThresholdsRequest, coach: Coach, ctx: Ctx) -> r.ThresholdsEffect:
    """What other thresholds would say of the last whole weeks; nothing is stored."""
    effects, looked_at = thresholds.preview(ctx.db, coach, body.values, ctx.now)
    return r.ThresholdsEffect(looked_at=looked_at, effects=[views.week_judged(e) for e in effects])


@router.get("/clients/{client_id}/weeks/{first}", operation_id="openWeek", response_model=r.OpenWeekView)
def opened(client_id: UUID, first: date, coach: Coach, ctx: Ctx) -> Response:
    return plain(views.open_week(open_week.open_week(ctx.db, coach, client_id, first)))


@router.get("/clients/{client_id}/exercises/{exercise_id}", operation_id="exerciseHistory")
def exercise_history(client_id: UUID, exercise_id: str, coach: Coach, ctx: Ctx) -> list[r.ExerciseDayView]:
    return [r.ExerciseDayView.model_validate(d) for d in course.exercise_history(ctx.db, coach, client_id, exercise_id)]


def _span(client: UUID | None = None, first: date = date.min, last: date = date.max) -> tables_out.Span:
    return tables_out.Span(client_id=client, first=first, last=last)


Taken = Annotated[tables_out.Span, Depends(_span)]


@router.get("/my-course", operation_id="myCourse")
def my_course(client: Client, ctx: Ctx) -> r.OwnCourseView:
    return views.own_course(own_course.own_course(ctx.db, client, ctx.now))


@router.get("/export/dictionary.csv", operation_id="exportDictionary", response_class=Csv)
def dictionary(coach: Coach, dialect: Written) -> Csv:
    return Csv(as_csv(tables_out.dictionary(), dialect), "dimbo-dictionary.csv")


@router.get("/export/tables.xlsx", operation_id="exportWorkbook", response_class=Workbook)
def workbook(coach: Senior, ctx: Noting, span: Taken) -> Workbook:
    """Every table as a sheet, with the dictionary."""
    return Workbook(tables_out.workbook(ctx.db, coach, span, ctx.now), "dimbo-tables.xlsx")


@router.get("/export/{table}.csv", operation_id="exportTable", response_class=Csv)
def table(table: str, coach: Senior, ctx: Noting, span: Taken, dialect: Written) -> Csv:
    return Csv(tables_out.as_csv_file(ctx.db, coach, table, span=span, now=ctx.now, dialect=dialect), f"dimbo-{table}.csv")
