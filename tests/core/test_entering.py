"""Devices set by hand: the way through its screens, and every way off it."""

from __future__ import annotations

from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import ROOT
from ventmap.core.basics import ShowsOn
from ventmap.core.forms import from_json
from ventmap.core.loading import POWER, Screen, Shown, enter, same_reading, screens_of, told_of
from ventmap.core.maps import map_card

MAPS = {
    "a body-network module": "harrow/tp30-body",
    "a sensor piggyback": "kelmar/om16-levels",
    "an inline controller": "brandrel/q660-free",
    "an injector piggyback": "kelmar/om16-blend",
    "a flasher": "brandrel/pw15-95",
}


def screens(name: str) -> list[Screen]:
    calibration = from_json((ROOT / "demo" / "maps" / f"{name}.json").read_text())
    return screens_of(calibration, off_s=10.0, vin="PVW1FAK05LS150419")


def right(found: list[Screen]) -> list[Shown]:
    return [Shown(screen.key, screen.shows) for screen in found]


@pytest.mark.parametrize("shows_on", get_args(ShowsOn))
@pytest.mark.parametrize("name", MAPS.values(), ids=MAPS)
def test_what_shows_and_what_it_is_set_by_come_from_the_sheet_not_from_the_kind(name, shows_on):
    calibration = from_json((ROOT / "demo" / "maps" / f"{name}.json").read_text())
    found = screens_of(calibration, shows_on=shows_on, set_by="a wand")
    plain = screens_of(calibration)
    assert found
    told = " ".join(f"{s.setting} {s.press}" for s in found if s.key.startswith(("lamp", "mode")))
    others = [word for word in get_args(ShowsOn) if word != shows_on]
    assert not any(word in told for word in others), "another thing that shows than the sheet says"
    assert (shows_on in told) == (bool(told) and shows_on != "nothing")
    bare = " ".join(s.setting for s in plain if s.key.startswith(("lamp", "mode")))
    assert not any(word in bare for word in get_args(ShowsOn)), "nobody said what shows"
    card = map_card(calibration, shows_on)
    if card is not None and calibration.form in ("trim", "level", "blend"):
        assert shows_on in card.heads
        assert "by a wand" in " ".join(s.press for s in found)


@pytest.mark.parametrize("name", MAPS.values(), ids=MAPS)
class TestThrough:
    def test_each_screen_in_turn_and_all_that_is_kept_again_after_the_power(self, name):
        found = screens(name)
        assert len({screen.key for screen in found}) == len(found)
        power = [screen.key for screen in found].index(POWER)
        assert all(screen.again for screen in found[power + 1 :])
        assert len(found) > power + 1
        for count in range(len(found)):
            now = enter("r", found, right(found)[:count])
            assert now.next == found[count]
            assert not now.complete
            assert not now.calls
        end = enter("r", found, right(found))
        assert end.complete
        assert end.next is None
        assert set(end.states) == {"right"}
        said = told_of(found, right(found))
        assert all(screen.shows in said for screen in found[power + 1 :])

    def test_a_wrong_one_is_not_passed_and_stops_the_second_time(self, name):
        found = screens(name)
        seen = [Shown(found[0].key, "77")]
        once, twice = enter("r", found, seen), enter("r", found, seen * 2)
        at_once = "stop" if found[0].fixed else "hold"
        assert (once.calls[0].verdict, twice.calls[0].verdict) == (at_once, "stop")
        assert once.next == twice.next == found[0]
        assert once.calls[0].rule == f"r#{found[0].key}"
        assert not twice.calls[0].may_be_overruled, "what a device does not keep, nobody overrules"
        assert not enter("r", found, [*seen, Shown(found[0].key, found[0].shows)]).calls

    def test_what_was_not_kept_is_entered_again_and_has_to_survive_another_power_off(self, name):
        found = screens(name)
        all_right = right(found)
        last = found[-1]
        first = next(screen for screen in found if screen.key == last.key.removesuffix(".again"))
        lost = enter("r", found, [*all_right[:-1], Shown(last.key, "0")])
        assert lost.next == first
        assert not lost.complete
        assert "was not kept" in lost.calls[0].do_next
        again = [*all_right[:-1], Shown(last.key, "0"), Shown(first.key, first.shows)]
        entered = enter("r", found, again)
        assert not entered.complete
        assert entered.next is not None
        assert entered.next.key == POWER


@given(st.data())
def test_nothing_but_right_to_the_end_is_complete(data):
    """Whatever is seen, in any order: complete is every screen right, and power off after the last entry."""
    found = screens(data.draw(st.sampled_from(sorted(MAPS.values()))))
    keys = [screen.key for screen in found]
    seen = data.draw(
        st.lists(
            st.builds(Shown, st.sampled_from(keys), st.sampled_from(["0", "30", *[s.shows for s in found]]))
        )
    )
    now = enter("r", found, seen)
    newest = {one.key: one.shown for one in seen}
    if now.complete:
        assert all(same_reading(newest.get(s.key, ""), s) or not s.shows for s in found)
        at = {one.key: place for place, one in enumerate(seen)}
        assert all(at[s.key] < at[POWER] for s in found if not s.again and s.key != POWER)
    assert now.complete == (now.next is None and not now.calls)


def test_readings_are_figures_with_or_without_their_unit_and_words_as_they_are():
    def same(shown, wanted, unit=""):
        return same_reading(shown, Screen("k", "s", "p", wanted, unit=unit))

    assert same("300", "300", "s")
    assert same("30,9 in", "30.9", "in")
    assert same(" Blue ", "blue")
    for one, other in (("1", "1 and dot"), ("off", "0"), ("", "4"), ("30.9", "30.8")):
        assert not same(one, other), (one, other)
    assert not same("8050 km/h", "8050", "rpm"), "another unit is another reading"


def test_a_box_that_came_loaded_is_told_by_its_label_once():
    found = screens("harrow/tp30-tow-driver")
    assert [screen.key for screen in found] == ["size", "set"], "a label does not change with the power"
    assert enter("r", found, right(found)).complete
    assert told_of(found, right(found)).endswith("set on its label TP30 tow")
    other = enter("r", found, [Shown("size", "3000"), Shown("set", "TP30 long haul")])
    assert other.calls[0].verdict == "stop"
    assert "Do not plug it in" in other.calls[0].do_next


def test_a_full_map_is_written_not_entered():
    assert screens("fenwright/t20-free-95") == []
