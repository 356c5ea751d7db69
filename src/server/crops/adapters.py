"""Rows to core values."""

from functools import lru_cache
from math import isfinite
from typing import Any

from canopy.crop.targets import DayLength as DayLength
from canopy.crop.targets import StageTarget, dli_of_ppfd, enriched_cap
from canopy.errors import CanopyError
from canopy.formats.growing import RESPONSES
from canopy.formats.growing import STAGE_LIMITS as STAGE_LIMITS
from canopy.formats.growing import TARGET_FIELDS as TARGET_FIELDS
from canopy.tables import table
from server.crops.models import Stage

RESPONSE_OF: dict[str, DayLength] = {word: word for word in RESPONSES}


def starter_crops() -> list[dict[str, Any]]:
    """Return the crops every new account begins with."""
    rows: list[dict[str, Any]] = table("starter_crops")["rows"]
    return rows


def crop_library() -> list[dict[str, Any]]:
    """Return the shipped crops; growers copy them, the shipped ones stay."""
    rows: list[dict[str, Any]] = table("crop_library")["rows"]
    return rows


@lru_cache
def canopy_reflectance(habit: str) -> float:
    """Return what share of the light a canopy of this habit sends back."""
    rows = table("canopies")["rows"]
    return next(float(row["reflectance"]) for row in rows if row["key"] == habit)


@lru_cache
def leaf_cover(habit: str) -> float:
    """Return what share of the floor under it the leaves of a canopy of this habit cover."""
    rows = table("canopies")["rows"]
    return next(float(row["cover"]) for row in rows if row["key"] == habit)


def target_of(stage: Stage, enriched: bool = False) -> StageTarget:
    """Return what a stored stage asks for, with its cap raised where CO2 is added."""
    values = {name: getattr(stage, name) for name in TARGET_FIELDS}
    if enriched:
        values["hot_spot_cap"] = enriched_cap(values["hot_spot_cap"])
    return StageTarget(**values, response=RESPONSE_OF[stage.response])


def plant_labels() -> list[dict[str, Any]]:
    """Return the words of plant labels, each with its DLI band."""
    rows: list[dict[str, Any]] = table("plant_labels")["rows"]
    return rows


def with_bands(stages: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return stages each with a DLI band; one asked for by PPFD alone has what follows from it.

    Raises
    ------
    CanopyError
        When a stage says neither, with its place.
    """
    return [_with_band(stage, f"stages.{i}") for i, stage in enumerate(stages)]


def _with_band(stage: dict[str, Any], where: str) -> dict[str, Any]:
    if stage["dli_low"] is not None and stage["dli_high"] is not None:
        return stage
    missing = "dli_low" if stage["dli_low"] is None else "dli_high"
    if stage["dli_low"] != stage["dli_high"]:
        raise CanopyError(
            "Give both ends of the DLI band, or leave both empty.", f"{where}.{missing}"
        )
    ends = [stage[name] for name in ("ppfd_low", "ppfd_high", "hours_low", "hours_high")]
    if None in ends[:2]:
        raise CanopyError(
            "Give a DLI band, or a PPFD band and leave the DLI empty.", f"{where}.dli_low"
        )
    if not all(isfinite(end) and end > 0 for end in ends):
        # its own check says what is wrong with them
        return stage | {"dli_low": 1.0, "dli_high": 1.0}
    low, high = dli_of_ppfd(*ends)
    return stage | {"dli_low": low, "dli_high": high}


def check_stages(stages: list[dict[str, Any]]) -> None:
    """Raise a sentence with the stage's place when its figures do not go together."""
    ids = [stage["id"] for stage in stages if stage.get("id") is not None]
    if len(ids) != len(set(ids)):
        raise CanopyError("A stage is listed twice; keep one of the two.", "stages")
    for i, stage in enumerate(stages):
        values = {name: stage[name] for name in TARGET_FIELDS}
        try:
            StageTarget(**values, response=RESPONSE_OF[stage["response"]])
        except CanopyError as error:
            raise error.at(f"stages.{i}.{error.field}") from error
        if stage["plant_start_cm"] > stage["plant_end_cm"]:
            raise CanopyError(
                f"In {stage['name']} the plants end lower than they start; swap the two heights.",
                f"stages.{i}.plant_end_cm",
            )
