"""Shelf: what stands on it, bottles too; what is known of each, and what is to be done. No widgets."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

from dribbet.bench.apart import apart
from dribbet.bench.doors.shelf import card, guide
from dribbet.bench.parts.margin import Remark, Weight
from dribbet.lab.cup import bottles, composition, house_rules
from dribbet.lab.cup.recipe import DENSITY_BY_WORD
from dribbet.lab.paint import containers, costs, experience, flow_scale
from dribbet.lab.paint.learning import start_ratio
from dribbet.notebook.store import new_id
from dribbet.records import (
    Bottle,
    BottleKind,
    BottleWeighing,
    DribbetError,
    GaugingKind,
    Grade,
    Kind,
    Material,
    Opacity,
    Response,
)
from dribbet.words import cautions
from dribbet.words.units import count_text, in_words, listed, percent, units_of

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from dribbet.bench.doors.shelf.guide import Guide
    from dribbet.lab.cup.bottles import Stand
    from dribbet.lab.paint.experience import Experience
    from dribbet.records import Report
    from dribbet.studio.desk import Desk

ORDER: Final = (Kind.PAINT, Kind.SHIMMER, Kind.BASE, Kind.MEDIUM, Kind.HOUSE_MIX, Kind.THINNER, Kind.ADDITIVE)
RUNNING_LOW: Final = 0.25
STARTING_SOLIDS: Final = {
    Kind.PAINT: 0.4, Kind.MEDIUM: 0.2, Kind.THINNER: 0.0, Kind.BASE: 0.36, Kind.SHIMMER: 0.38, Kind.ADDITIVE: 0.5, Kind.HOUSE_MIX: 0.2,
}  # fmt: skip
SEEN_WORDS: Final = {
    Response.CELL_COUNT: "{:.0f} cells a dm²",
    Response.CRACK_LENGTH: "{:.0f} mm of cracks",
    Response.VIVIDNESS: "vividness {:.0f}",
}


@dataclass(frozen=True, slots=True)
class Standing:
    """One thing on the shelf: a container or a bottle."""

    id: str
    name: str
    hex: str
    share: float
    under: str
    bottle: bool = False
    code: str = ""
    kind: str = ""
    flag: bool = False
    """Whether something is to be done about it."""


class ShelfPresenter:
    """What stands on the shelf, and changes to it."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    # ------------------------------------------------------------ what is so

    def materials(self) -> list[Material]:
        """Containers by what they are used as."""
        return sorted(self.desk.shelf(), key=lambda m: ORDER.index(m.kind))

    def bottles(self) -> list[Bottle]:
        """Bottles that still hold something, oldest first."""
        return [b for b, _ in bottles.use_first(self.desk.notebook.all(Bottle), self.desk.now())]

    def standing(self) -> list[Standing]:
        """Everything, in the order of the shelf."""
        gaugings = self.desk.gaugings()
        made = [
            Standing(
                m.id, m.name, m.hex, min(m.stock_kg / m.full_kg, 1.0) if m.full_kg else 0.0, units_of(self.desk).stock_text(m.stock_kg),
                kind=str(m.kind), flag=bool(containers.to_check(m, gaugings)),
            )
            for m in self.materials()
        ]  # fmt: skip
        for b in self.bottles():
            stand = self.stand(b)
            full = b.stored_kg - b.empty_kg
            share = stand.content_kg / full if full else 0.0
            made.append(
                Standing(b.id, b.name, b.hex, share, units_of(self.desk).stock_text(stand.content_kg), True, b.code, str(b.kind), bool(stand.barred))
            )
        return made

    def stand(self, b: Bottle) -> Stand:
        """How a bottle stands."""
        return bottles.stand(b, self.desk.notebook.all(BottleWeighing, bottle_id=b.id))

    def stands(self, text: str) -> bool:
        """Whether something on the shelf has this code or name."""
        wanted = text.strip().lower()
        return any(b.code.lower() == wanted for b in self.desk.notebook.all(Bottle)) or any(m.name.lower() == wanted for m in self.desk.shelf())

    def find(self, text: str) -> str:
        """Id of what a typed or scanned code or name means.

        Raises
        ------
        DribbetError
            If nothing is called so.
        """
        wanted = text.strip().lower()
        for b in self.desk.notebook.all(Bottle):
            if b.code.lower() == wanted:
                return b.id
        for m in self.desk.shelf():
            if m.name.lower() == wanted:
                return m.id
        raise DribbetError(f"Nothing on the shelf is called “{text.strip()}”. Type a bottle's code, or a container's name.")

    def sentence(self) -> tuple[str, str]:
        """What is to be done about the shelf, and how much stands on it."""
        materials, gaugings = self.materials(), self.desk.gaugings()
        if not materials:
            return "The shelf is empty. Add what you pour with.", ""
        due = [m.name for m in materials if containers.to_check(m, gaugings)]
        low = [m.name for m in materials if m.full_kg and m.stock_kg < RUNNING_LOW * m.full_kg]
        if due:
            words = f"{listed(due, 3).capitalize()} came in a new lot: measure {'it' if len(due) == 1 else 'them'} again."
        elif low:
            words = f"{listed(low, 3).capitalize()} {'is' if len(low) == 1 else 'are'} running low."
        else:
            words = "Nothing is running low."
        n = len(self.bottles())
        note = f"{len(materials)} containers" + (f" and {count_text(n, 'bottle')}; the oldest mix first" if n else "") + "."
        return words, note

    def remarks(self, m: Material) -> list[Remark]:
        """What is to be done about a container, and what is known of it beyond its card."""
        gaugings, shelf = self.desk.gaugings(), self.desk.shelf()
        made = []
        for kind in containers.to_check(m, gaugings):
            made.append(Remark("New lot", f"Its {kind} was measured before this lot came. Measure it again.", Weight.CAUTION))
        made += [Remark("", cautions.BY_HAZARD[h], Weight.CAUTION) for h in m.hazards]
        if m.is_powder:
            made.append(Remark("", cautions.POWDER, Weight.CAUTION))
        if m.wash_off:
            made.append(Remark("", "Must be washed off before varnish, resin or oven.", Weight.CAUTION))
        made += self._measured(m)
        made += self._learned(m)
        made += self._panels(m)
        made += self._money(m, shelf)
        return made

    def _measured(self, m: Material) -> list[Remark]:
        gaugings = self.desk.gaugings()
        made = []
        weighed = containers.newest(gaugings, m, GaugingKind.DENSITY)
        if weighed is None:
            made.append(Remark("Density", f"{m.density_kg_m3 / 1000:.2f} g in each mL is a starting figure, not weighed yet."))
        else:
            spread = containers.density_sd(weighed.readings[1:], weighed.readings[0])
            lot = f", lot {weighed.lot}" if weighed.lot else ""
            made.append(
                Remark("Density", f"weighed {self.desk.local(weighed.at):%d %b}: {weighed.value / 1000:.3f} ± {spread / 1000:.3f} g in each mL{lot}.")
            )
        disc = containers.newest(gaugings, m, GaugingKind.BODY)
        if disc is not None:
            found = containers.body_of(disc.value, sample_kg=disc.sample_kg, density_kg_m3=m.density_kg_m3)
            made.append(
                Remark("Body", f"{found.words} ({units_of(self.desk).length_text(disc.value * 1e3)} across): start from 1 to {found.start_parts:g}.")
            )
        own = [g for k in (GaugingKind.DROP, GaugingKind.TEASPOON, GaugingKind.SQUIRT, GaugingKind.PEA) if (g := containers.newest(gaugings, m, k))]
        for g in own:
            made.append(Remark(f"One {g.kind}", f"{g.value * 1e6:.0f} mg, from {g.count} weighed {self.desk.local(g.at):%d %b}."))
        if not own and m.drop_kg:
            made.append(Remark("One drop", f"{m.drop_kg * 1e6:.0f} mg, not weighed yet."))
        return made

    def _learned(self, m: Material) -> list[Remark]:
        """Start ratio for a flip cup's grade from the paint's own line, with what it rests on."""
        if m.kind not in (Kind.PAINT, Kind.SHIMMER):
            return []
        past = self.desk.learned.past_mixes()
        mine = [p for p in past if p.paint == m.key]
        if not mine:
            return []
        medium = max({p.medium for p in mine}, key=lambda name: sum(p.medium == name for p in mine))
        wanted = 3
        found = start_ratio(past, m.key, medium, wanted)
        line = self.desk.learned.line(m.key, medium)
        ratio = sum(p.medium_to_paint for p in mine if p.medium == medium) / sum(p.medium == medium for p in mine)
        known = {o.name: o.density_kg_m3 for o in self.desk.shelf()}
        by_volume = ratio * m.density_kg_m3 / known.get(medium, 1030.0)
        from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S

        share = line.water_share_for(GRADE_VISCOSITY_PA_S[wanted], medium_to_paint=by_volume)
        span = f"{percent(share.value)} water by volume ({percent(share.low)} to {percent(share.high)})"
        words = f"For medium thickness in 1 : {ratio:.1f} {medium}: {span}, "
        words += f"from {count_text(share.readings, 'reading')} of {count_text(share.cups, 'cup')}."
        if found is not None:
            low, high = percent(found.water_low), percent(found.water_high)
            words += f" Your cups that stood so held {low if low == high else f'{low} to {high}'} water by weight ({found.cases})."
        step = line.water_per_grade_m3(4, whole_m3=100e-6, medium_to_paint=by_volume)
        words += f" From thick to medium: {step.value * 1e6:.0f} g water in 100 mL ({step.low * 1e6:.0f} to {step.high * 1e6:.0f})."
        thinnest = house_rules.grade_of(line.thinnest_pa_s() * flow_scale.MOUND_S_PER_PA_S, self.desk.rules)
        words += f" Without a thinner no mix gets thinner than {medium} alone: grade {thinnest}."
        return [Remark("To start from", words)]

    def _panels(self, m: Material) -> list[Remark]:
        seen = self.desk.learned.panels_seen()
        own = experience.of_material([m.key], seen)
        if not own.panels:
            return [Remark("Your panels", "None of those measured holds it yet.")]
        made = [Remark("Your panels", _experience_words(own))]
        if m.grade is not Grade.UNKNOWN:
            alike = [o.name for o in self.desk.shelf() if o.grade is m.grade]
            if len(alike) > 1:
                made.append(Remark(f"All {m.grade} grade", _experience_words(experience.of_material(alike, seen))))
        others = [o for o in self.desk.shelf() if o.kind is m.kind and o.id != m.id and m.kind in (Kind.MEDIUM, Kind.ADDITIVE, Kind.BASE)]
        tried = [(o.name, e) for o in others if (e := experience.of_material([o.name], seen)).panels]
        if tried:
            made.append(Remark("Instead of it", "; ".join(f"{n}: {_experience_words(e)}" for n, e in tried[:3])))
        untried = [o.name for o in others if o.name not in {n for n, _ in tried}]
        if untried:
            made.append(Remark("", f"Not tried on a measured panel: {listed(untried, 3)}."))
        return made

    def _money(self, m: Material, shelf: Sequence[Material]) -> list[Remark]:
        units = units_of(self.desk)
        made = []
        price = costs.price_per_kg(m, shelf)
        if price:
            solids = f", {price * m.density_kg_m3 * 1e-6 / m.volume_solids:.3f} a mL of what stays dry" if m.volume_solids else ""
            made.append(Remark("Costs", f"{price:.2f} a kg, {price * m.density_kg_m3 * 1e-6:.3f} a mL{solids}."))
        packs = costs.packs_of(m)
        if len(packs) > 1:
            small, large = min(packs, key=lambda p: p.pack.content_kg).pack, max(packs, key=lambda p: p.pack.content_kg).pack
            worth = costs.break_even_kg(small, large)
            said = "; ".join(f"{units.stock_text(p.pack.content_kg)} at {p.per_kg:.2f} a kg" for p in packs)
            tail = f" The large one pays from {units.stock_text(worth)} on." if worth is not None else ""
            made.append(Remark("Packs", f"{said}.{tail}"))
        if m.kind is Kind.ADDITIVE and m.stock_kg:
            drops = costs.drops_left(m, self.desk.gaugings())
            words = f"{drops} drops are left"
            per = self._per_pour(m)
            left = costs.pours_left(m, per)
            if left is not None:
                words += f": {left} pours as the last ones, {per * price:.3f} each" if price else f": {left} pours as the last ones"
            made.append(Remark("Lasts", words + "."))
        return made

    def _per_pour(self, m: Material) -> float:
        """What a pour took of a material in the newest series that used it."""
        for series in reversed(self.desk.all_series()):
            held = series.constants
            if m.key == held.silicone and held.silicone_colours:
                most = max((v.value or 0.0 for varied in series.varied for v in varied.levels if varied.factor.name == "SILICONE"), default=0.0)
                dosed = sum(layer.share for layer in series.layers if layer.material in held.silicone_colours)
                return (most or held.silicone_drops_per_100g) * 10.0 * held.poured_kg * dosed * (m.drop_kg or 2.9e-5)
        return 0.0

    def bottle_remarks(self, b: Bottle) -> list[Remark]:
        """How a bottle stands, and what it may be used for."""
        units, stand = units_of(self.desk), self.stand(b)
        age = (self.desk.now() - b.stored_at).total_seconds() / 86400.0
        origin = next((s.name for s in self.desk.all_series() if s.id == b.series_id), "")
        made = [
            Remark(
                "Holds", f"{units.mass_text(stand.content_kg)} of {', '.join(f'{n} {percent(s)}' for n, s in stand.contents.items() if s >= 0.005)}."
            ),
            Remark("Stored", f"{b.stored_at:%d %B}, {age:.0f} days ago{', from ' + origin if origin else ''}."),
        ]
        if stand.barred:
            made.insert(0, Remark("Not for a test", stand.barred, Weight.STOP))
        if b.silicone:
            made.append(Remark("Silicone", "It is in here: keep its tools apart, and wash what it touches before any coat.", Weight.CAUTION))
        if b.activator:
            made.append(Remark("Activator", "Not a colour of a cup: it is laid over colours.", Weight.CAUTION))
        if stand.unchecked:
            words = (
                f"It lost {units.mass_text(stand.lost_kg)} of water. Give it back, stir,"
                if stand.lost_kg >= bottles.WORTH_G
                else "Water was given back. Stir,"
            )
            made.append(Remark("Check it first", f"{words} and check it before you pour it.", Weight.CAUTION))
        if b.grade and not stand.unchecked:
            fits = house_rules.techniques_for([round(b.grade)], self.desk.rules)
            made.append(Remark("Fits", f"{listed([str(t) for t in fits])}." if fits else "No way of pouring at its thickness."))
        elif not stand.unchecked:
            made.append(Remark("Fits", "not known: it was stored unchecked."))
        if age > bottles.SPOILS_AFTER_D:
            made.append(Remark("Old", "Smell and stir it before use; the label of its medium says how long it keeps.", Weight.CAUTION))
        return made

    # ------------------------------------------------------------ what a press does

    def guide_for(self, id_: str, kind: GaugingKind | None) -> Guide:
        """A guided measurement of a container, or a bottle's weighing."""
        b = next((b for b in self.bottles() if b.id == id_), None)
        if b is not None:
            return guide.bottle(self.desk, b) if b.empty_kg else guide.cap(self.desk, b)
        m = next(m for m in self.desk.shelf() if m.id == id_)
        if kind is GaugingKind.DENSITY or kind is None:
            return guide.density(self.desk, m)
        return guide.body(self.desk, m) if kind is GaugingKind.BODY else guide.measure(self.desk, m, kind)

    def change(self, m: Material, key: str, text: str | None) -> None:
        """A line of the card: the next value, or what was typed."""
        changed = card.pressed(m, key) if text is None else card.typed(m, key, text, self.desk)
        if changed != m:
            self.desk.notebook.replace(changed)
            self.desk.changed()

    def add(self, text: str) -> str:
        """Add a container: 'name, kind, #hex'; kind and colour may be left out. A house mix: 'name = glue 200, water 100'."""
        name, equals, parts = text.partition("=")
        if equals:
            return self._add_house_mix(name.strip(), parts)
        words = [w.strip() for w in text.split(",")]
        if not words or not words[0]:
            raise DribbetError("A container needs a name. Type it, then its kind and its colour, such as sea glass, paint, #7FB3A8.")
        kinds = {str(k): k for k in Kind}
        colours = [w for w in words[1:] if re.fullmatch(r"#[0-9A-Fa-f]{6}", w)]
        strange = [w for w in words[1:] if w and w.lower() not in kinds and w not in colours]
        if strange:
            raise DribbetError(f"“{strange[0]}” is no kind and no colour. Kinds are {', '.join(kinds)}; a colour is written as #7FB3A8.")
        kind = next((kinds[w.lower()] for w in words[1:] if w.lower() in kinds), Kind.PAINT)
        return self._put(self._plain(words[0], kind, colours[0].upper() if colours else "#9A9A9A"))

    def _plain(self, name: str, kind: Kind, hex_: str) -> Material:
        if any(name.lower() in (m.name.lower(), m.key.lower()) for m in self.desk.shelf()):
            raise DribbetError(f"There is a {name} on the shelf already. Give this one another name.")
        density = next((v for k, v in DENSITY_BY_WORD.items() if k in name.lower()), 1150.0 if kind is Kind.PAINT else 1030.0)
        return Material(
            id=new_id(), name=name[:40], kind=kind, hex=hex_, density_kg_m3=density, volume_solids=STARTING_SOLIDS[kind], opacity=Opacity.OPAQUE,
            stock_kg=0.0, full_kg=0.25,
        )  # fmt: skip

    def _add_house_mix(self, name: str, parts: str) -> str:
        if not name:
            raise DribbetError("A house mix needs a name before the = sign, such as cut glue = glue 200, water 100.")
        made_of = card.made_of(parts, self.desk)
        if not made_of:
            raise DribbetError("Name what the house mix is made of, such as cut glue = glue 200, water 100.")
        known = {m.key: m for m in self.desk.shelf()}
        total = sum(kg for _, kg in made_of)
        main = known[max(made_of, key=lambda p: p[1])[0]]
        made = replace(
            self._plain(name, Kind.HOUSE_MIX, main.hex),
            made_of=made_of,
            made_at=self.desk.now(),
            stock_kg=total,
            full_kg=total,
            opacity=main.opacity,
        )
        return self._put(card.with_figures_of_its_parts(made, self.desk))

    def _put(self, m: Material) -> str:
        self.desk.notebook.add(m)
        self.desk.changed()
        return m.id

    def add_leftover(self, text: str) -> str:
        """A leftover pot from what was scraped together: 'K3-a 35, K3-b 20', grams of each recipe's cup."""
        parts, names = [], []
        recipes = {f"{s.code}-{a.letter}".lower(): (s.id, a.letter) for s in self.desk.all_series() for a in self.desk.load(s.id).arms}
        for piece in re.split(r"[,;]", text):
            found = re.match(r"^\s*(\S+)\s+([\d.,]+)\s*(?:g|oz)?\s*$", piece)
            if found is None:
                raise DribbetError("Say which cups and how much: K3-a 35, K3-b 20.")
            place = recipes.get(re.sub(r"\d+$", "", found.group(1).lower()))
            if place is None:
                raise DribbetError(f"There is no recipe {found.group(1)}. Write it as K3-a.")
            run = self.desk.load(place[0])
            arm = next(a for a in run.arms if a.letter == place[1])
            cup = composition.of_cup(run.series, arm, run.mixes, run.weighings, run.shelf)
            silicone = (
                arm.silicone_drops_per_100g * 10.0 * 2.9e-5 * sum(la.share for la in run.series.layers if la.material in arm.held.silicone_colours)
            )
            if silicone > 0.0 and arm.held.silicone not in cup:  # dropped in when the cups were filled
                cup = {n: s * (1.0 - silicone) for n, s in cup.items()} | {arm.held.silicone: silicone}
            parts.append((cup, units_of(self.desk).mass_kg(found.group(2))))
            names.append(found.group(1))
        contents, oily = bottles.leftover(parts, self.desk.shelf())
        made = Bottle(
            id=new_id(), code=bottles.next_code(b.code for b in self.desk.notebook.all(Bottle)), name=f"leftover of {listed(names)}"[:80],
            kind=BottleKind.LEFTOVER, contents=tuple(contents.items()), stored_at=self.desk.now(), stored_kg=sum(kg for _, kg in parts),
            hex="#8C8C8C", silicone=oily,
        )  # fmt: skip
        self.desk.notebook.add(made)
        self.desk.changed()
        return made.id

    def finish_bottle(self, id_: str) -> None:
        """The bottle is empty, or thrown away; its record stays."""
        b = next(b for b in self.bottles() if b.id == id_)
        self.desk.notebook.replace(replace(b, finished=True))
        self.desk.changed()

    def labels(self, size: str) -> Callable[[Report], bytes]:
        """Labels of all bottles and house mixes as they are now; returns what draws them as PDF, to be called in a job."""
        from dribbet.paper.labels import PanelLabel, labels_pdf

        made = []
        for b in self.bottles():
            words = ", ".join(f"{n} {s:.0%}" for n, s in b.contents if s >= 0.005)
            made.append(PanelLabel(b.code, tuple(bottles.label_lines(b, words))))
        for m in self.materials():
            if m.made_of:
                day = f"{m.made_at:%d %B %Y}" if m.made_at else ""
                raw = ", ".join(f"{n} {kg * 1e3:.0f} g" for n, kg in m.made_of)
                flags = ("SILICONE",) if m.wash_off else ()
                made.append(PanelLabel(m.name, tuple(x for x in (*flags, day, raw) if x)))
        if not made:
            raise DribbetError("There is no bottle and no house mix to label yet. Store a mix on Mix (M, then S).")
        return lambda report: apart(report, labels_pdf, made, "Labels of bottles", size)


def _experience_words(e: Experience) -> str:
    if not e.panels:
        return "not tried yet"
    said = []
    for response, mean in e.means.items():
        words = SEEN_WORDS[response].format(mean)
        other = e.others.get(response)
        said.append(words + (f" ({other:.0f} without it)" if other is not None else ""))
    return f"{in_words(e.panels)} {'panel' if e.panels == 1 else 'panels'}: {', '.join(said) or 'not measured yet'}"
