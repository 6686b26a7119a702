"""The steps that bring each device of a box into use, by its sheet, in their order.

Source: common practice; a sheet's own steps outrank these.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from ...assume.wired import look_as_usual
from ...edits.commission import noted_of
from ...model.box import Box, Equipment
from ...model.commissioned import Commissioned, SettingName
from ...model.datasheet import Datasheet
from ...model.job import Job, by_id
from ...model.tick import Step, StepKind
from ...text.joining import joining_words
from ...wiring.hookup.look import HookUp
from ...wiring.hookup.over_network import without_network
from .expect import ExpectedTrials, Trial, expected, over_network

Form = Literal["", "serial", "join", "name", "firmware", "setting", "trim", "pair", "trial", "watts", "built"]
"""Asked for at a step, beside its tick."""
USUAL_WINDOW = 180
"""How long a hub is let look where a sheet does not say [s]; common practice."""
AFTER_OUTAGE = ("off", "on", "as before")
_FROM_COLD = "Down from half, each step from cold, until a lamp no longer starts surely."


@dataclass(frozen=True, slots=True)
class CommissionStep:
    """One step of one device."""

    step: Step
    title: str
    what: tuple[str, ...] = ()
    form: Form = ""
    setting: SettingName | None = None
    choices: tuple[str, ...] = ()
    """What can be chosen for it; () for any words."""
    said: str = ""
    """The note on it already."""
    idle: str = ""
    """Why it does not apply; "" where it does."""
    trial: Trial | None = None
    usual: str = ""
    """The choice that goes with the loads; "" for none."""


@dataclass(frozen=True, slots=True)
class ToCommission:
    """One device to bring into use."""

    item: Equipment
    sheet: Datasheet
    at: str
    """As hub and graph name it: front-door/d1."""
    noted: Commissioned
    steps: tuple[CommissionStep, ...]

    @property
    def name(self) -> str:
        """What people call it."""
        return self.item.name or self.sheet.name

    @property
    def window(self) -> int:
        """How long the hub is let look for it [s]."""
        joining = self.sheet.joining
        return joining.window if joining and joining.window else USUAL_WINDOW


def radios(box: Box, sheets: Mapping[str, Datasheet]) -> tuple[Equipment, ...]:
    """The devices of a box that are brought into use: what has a radio, and what measures."""
    return tuple(item for item in box.equipment if sheets[item.sheet].radio or sheets[item.sheet].metering)


def to_commission(job: Job, key: str) -> tuple[ToCommission, ...]:
    """The devices of a box that are brought into use, each with its steps.

    Args:
        job: with every box and run on its circuits.
    """
    sheets, (seen, _) = by_id(job.sheets), look_as_usual(job, key)
    found = []
    for item in radios(seen.box, sheets):
        sheet, noted = sheets[item.sheet], noted_of(seen.box, item.id)
        maker = _Maker(job, seen, item, sheet, noted)
        found.append(ToCommission(item, sheet, f"{key}/{item.id}", noted, tuple(maker.steps())))
    return tuple(found)


class _Maker:
    """The steps of one device."""

    def __init__(self, job: Job, seen: HookUp, item: Equipment, sheet: Datasheet, noted: Commissioned) -> None:
        self.job, self.seen, self.item, self.sheet, self.noted = job, seen, item, sheet, noted
        self.box: Box = seen.box
        at = f"{self.box.id}/{item.id}"
        self.must: ExpectedTrials = over_network(job, item, sheet) if item.commands else expected(seen, at)

    def steps(self) -> Iterator[CommissionStep]:
        """All of them, in order: an update resets what was set, so it comes before."""
        where = f"Its code is on it: {self.sheet.code_at}." if self.sheet.code_at else "Look for its code."
        yield self._one(
            "recorded", "Serial and setup code", where, "The code is kept apart and shown only when you ask for it.",
            form="serial", said=self.noted.serial,
        )  # fmt: skip
        if self.sheet.radio:
            yield from self._joined()
        yield from self._settings()
        if self.sheet.radio:
            yield from self._pairs()
        yield from self._trials()
        yield from self._weighed()
        built = "said" if self.box.built is not None else ""
        what = ("The record keeps everything as planned. Correct first what turned out different.",)
        yield self._one("built", "Built as planned", *what, form="built", said=built)

    def _one(
        self, kind: StepKind, title: str, *what: str, of: tuple[str, ...] = (), form: Form = "", said: str = "",
        idle: str = "", setting: SettingName | None = None, choices: tuple[str, ...] = (), trial: Trial | None = None,
    ) -> CommissionStep:  # fmt: skip
        step = Step(kind=kind, subjects=(self.item.id, *of))
        return CommissionStep(step, title, tuple(filter(None, what)), form, setting, choices, said, idle, trial)

    def _joined(self) -> Iterator[CommissionStep]:
        joining, sheet = self.sheet.joining, self.sheet
        do = joining_words(joining) if joining else sheet.pairing[:1].upper() + sheet.pairing[1:]
        looks = f"It looks for {joining.window} s." if joining and joining.window else ""
        own = f"Reset: {joining.reset}. " if joining and joining.reset else ""
        reset = f"{own}A reset alone doesn’t free it. Remove it from its old hub too."
        yield self._one(
            "joined the hub", f"Join it to {sheet.radio}", f"{do or 'The sheet doesn’t say how it joins'}.",
            looks, reset, form="join", said=self.noted.hub,
        )  # fmt: skip
        yield self._one(
            "named", "Room and name", "Use each name once. Don’t pick two that sound alike.",
            form="name", said=self.noted.name,
        )  # fmt: skip
        versions = f"{self.noted.before}, now {self.noted.firmware}" if self.noted.firmware else ""
        yield self._one(
            "updated", "Update the firmware first", "An update can reset the settings.", form="firmware",
            said=versions,
        )  # fmt: skip

    def _settings(self) -> Iterator[CommissionStep]:
        sheet = self.sheet
        listed = tuple(sheet.lamp_settings) if sheet.lamp_settings else ("led", "incandescent")
        asked: tuple[tuple[SettingName, bool, tuple[str, ...], str], ...] = (
            ("lamp type", sheet.dims, listed, ""),
            ("low-end trim", sheet.dims, (), _FROM_COLD),
            ("high end", sheet.dims, (), "100 %, or less where lamps hum or glare."),
            ("fade", sheet.dims, (), ""),
            ("after an outage", bool(sheet.radio), AFTER_OUTAGE, "What should it do when the power comes back?"),
            ("indicator", bool(sheet.radio), ("off", "when off", "when on"), ""),
            ("countdown", "countdown" in sheet.does, (), ""),
            ("schedule", "schedule" in sheet.does, (), ""),
            ("scenes and groups", bool(sheet.radio), (), "Which scenes and groups is it in? None is fine."),
            ("lived-in look", "looks lived in" in sheet.does, ("off", "on when away"), ""),
        )  # fmt: skip
        kinds = {load.kind for load in self.item.loads}
        (kind,) = kinds if len(kinds) == 1 else (None,)
        for name, applies, choices, what in asked:
            if applies:
                form: Form = "trim" if name == "low-end trim" else "setting"
                step = self._one(
                    "set", f"Set: {name}", what, of=(name,), form=form, setting=name, choices=choices,
                    said=self.noted.setting(name),
                )  # fmt: skip
                yield replace(step, usual=kind) if name == "lamp type" and kind in choices else step

    def _pairs(self) -> Iterator[CommissionStep]:
        names = tuple(dict.fromkeys(self._others()))
        yield self._one(
            "paired", "Pair its remotes and companions", "Try each one after you pair it.", form="pair", choices=names,
            said=", ".join(self.noted.pairs), idle="" if names else "no remote or companion for it is planned nearby",
        )  # fmt: skip

    def _others(self) -> Iterator[str]:
        """Remotes of its radio in its room, and companions by radio in the boxes wired with it."""
        sheets = by_id(self.job.sheets)
        for box in self.job.boxes:
            for item in box.equipment:
                sheet = sheets[item.sheet]
                near = box.room == self.box.room or box.id in self.seen.group
                mine = sheet.id == self.sheet.companion or (sheet.kind == "remote" and sheet.radio == self.sheet.radio)
                if near and mine and (box.id, item.id) != (self.box.id, self.item.id):
                    yield f"{item.name or sheet.name}, {box.name}"

    def _trials(self) -> Iterator[CommissionStep]:
        sheet = self.sheet
        if self.must.open:
            missing = f"What it should do isn't known yet: {self.must.open}."
            yield self._one("tried by hand", "Try it by hand", missing, of=("hand",))
        kind: StepKind = "tried over the network" if self.item.commands else "tried by hand"
        for trial in self.must.by_hand:
            at = (trial.gear.replace("/", "."), str(trial.output + 1))
            yield self._trial(kind, trial.do, trial, *at)
        if sheet.radio:
            for trial in self.must.by_hub:
                yield self._trial("tried from the hub", trial.do, trial, str(trial.output + 1))
            yield self._without_network()
            yield self._after_outage()

    def _trial(self, kind: StepKind, title: str, trial: Trial, *of: str) -> CommissionStep:
        return self._one(
            kind, title, f"You should see: {trial.says}.", "Then turn it off again.", of=of, form="trial", trial=trial
        )

    def _without_network(self) -> CommissionStep:
        wished = [wish.what or "the place" for wish in self.box.wishes if wish.without_network]
        asked = f"The customer asked that {', '.join(wished)} work without it." if wished else ""
        local = {True: "Its sheet says it works by hand.", False: "Its sheet says it doesn’t work by hand.", None: ""}
        says = without_network(self.job, self.item) or local[self.sheet.local]
        return self._one(
            "tried without the network", "Turn the hub’s network off", "Try each switch by hand again.",
            asked, says, form="trial",
        )  # fmt: skip

    def _after_outage(self) -> CommissionStep:
        must = self.noted.setting("after an outage")
        should = f"It should come back {must}." if must else "Nothing was set for this. Write down what it does."
        return self._one(
            "tried after an outage", "Turn its breaker off and on", should,
            "It should still be in the hub, with its settings.", form="trial",
        )  # fmt: skip

    def _weighed(self) -> Iterator[CommissionStep]:
        if not self.sheet.metering:
            return
        said = str(self.noted.watts) if self.noted.watts is not None else ""
        yield self._one(
            "weighed", "Compare its watts with the sum", "Turn on everything it controls.", form="watts", said=said
        )
