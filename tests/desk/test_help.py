"""The guide, the page of keys and the command palette, by keyboard alone."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from ivory_quilt.desk.commands.menus import COMMANDS, command_of
from ivory_quilt.desk.guide import chapters, found_in
from ivory_quilt.desk.widgets.command_palette import rank
from tests.desk.conftest import let_run

GUIDE = "cement"  # a word that some chapters have and others have not


def focused(desk):
    return desk.window.focusWidget()


def titles(guide):
    return [guide.list.item(k).text() for k in range(guide.list.count())]


def answers(palette):
    rows = [palette.list.topLevelItem(k) for k in range(palette.list.topLevelItemCount())]
    return [(row.text(0), row.text(1)) for row in rows]


def test_the_guide_has_a_chapter_for_every_station(empty_desk):
    words = [station.word for station in empty_desk.window.stations.values()]
    assert [c.title for c in chapters()][1:] == words
    assert all(len(c.text) > 100 for c in chapters())


@pytest.mark.parametrize("ident", ["measure", "lay", "cut"])
def test_the_guide_opens_at_the_station_in_front(empty_desk, ident):
    empty_desk.act(f"go-{ident}")
    empty_desk.act("guide")
    guide = empty_desk.window.panels.guide
    assert guide.isVisible()
    assert guide.chapter.title == empty_desk.window.station.word
    assert guide.chapter.title in guide.page.toPlainText().splitlines()[0]


def test_the_guide_is_searched_by_typing(empty_desk):
    empty_desk.act("guide")
    guide = empty_desk.window.panels.guide
    assert focused(empty_desk) is guide.search
    QTest.keyClicks(guide.search, GUIDE)
    holding = [c for c in chapters() if GUIDE in c.text.casefold()]
    assert 0 < len(holding) < len(chapters())
    assert [t.partition("  (")[0] for t in titles(guide)] == [c.title for c in holding]
    shown = guide.page.extraSelections()
    assert {s.cursor.selectedText().casefold() for s in shown} == {GUIDE}
    assert len(shown) == guide.page.toPlainText().casefold().count(GUIDE)
    places = sum(c.count(GUIDE) for c in holding)
    assert guide.found.text().split()[0] == str(places)
    QTest.keyClick(guide.search, Qt.Key.Key_Return)
    assert guide.page.textCursor().selectedText().casefold() == GUIDE
    QTest.keyClick(guide.search, Qt.Key.Key_Escape)
    assert not guide.isVisible()


def test_finding_goes_through_all_chapters_and_comes_round(empty_desk):
    empty_desk.act("guide")
    guide = empty_desk.window.panels.guide
    QTest.keyClicks(guide.search, GUIDE)
    seen = []
    for _ in range(sum(c.count(GUIDE) for c in chapters()) + 1):
        QTest.keyClick(guide.search, Qt.Key.Key_Return)
        seen.append((guide.chapter.title, guide.page.textCursor().position()))
    assert len(set(seen[:-1])) == len(seen) - 1
    assert seen[-1] == seen[0]


def test_what_is_nowhere_in_the_guide_is_said(empty_desk):
    empty_desk.act("guide")
    guide = empty_desk.window.panels.guide
    QTest.keyClicks(guide.search, "xylophone")
    assert titles(guide) == []
    assert "Nothing" in guide.page.toPlainText()
    assert not guide.next.isEnabled()
    QTest.keyClick(guide.search, Qt.Key.Key_Return)
    guide.search.clear()
    assert len(titles(guide)) == len(chapters())


def test_arrows_choose_a_chapter_while_typing(empty_desk):
    empty_desk.act("go-measure")
    empty_desk.act("guide")
    guide = empty_desk.window.panels.guide
    QTest.keyClick(guide.search, Qt.Key.Key_Down)
    assert guide.chapter.title == "Pattern"
    for _ in range(20):
        QTest.keyClick(guide.search, Qt.Key.Key_Up)
    assert guide.chapter == chapters()[0]


def test_chapters_are_found_in_any_case():
    assert found_in("CEMENT") == found_in("cement") != chapters()
    assert found_in("") == chapters()


def test_the_palette_finds_commands_and_does_them(demo_desk):
    demo_desk.act("go-pattern")
    demo_desk.act("palette")
    palette = demo_desk.window.panels.palette
    assert palette.isVisible()
    assert focused(demo_desk) is palette.field
    QTest.keyClicks(palette.field, "buy")
    assert answers(palette)[0] == ("Buy", "View · Ctrl+5")
    QTest.keyClick(palette.field, Qt.Key.Key_Return)
    let_run()
    assert not palette.isVisible()
    assert demo_desk.window.station is demo_desk.buy


def test_the_palette_goes_to_a_piece(demo_desk):
    demo_desk.act("go-cut")
    demo_desk.act("palette")
    palette = demo_desk.window.panels.palette
    QTest.keyClicks(palette.field, "wing case under")
    assert answers(palette)[0] == ("wing case under-plate", "piece · 4 mm")
    QTest.keyClick(palette.field, Qt.Key.Key_Return)
    let_run()
    assert demo_desk.window.station is demo_desk.pattern
    assert demo_desk.pattern.presenter.selected == ("wing-case-under-plate",)


def test_the_palette_holds_every_command_that_makes_sense(demo_desk):
    window = demo_desk.window
    demo_desk.rested()  # what makes sense changes while layouts come in
    demo_desk.act("palette")
    palette = window.panels.palette
    offered = {e.title for e in palette._known}
    for command in COMMANDS:
        title = command.title.removesuffix(" …")
        assert (title in offered) == (command.id != "palette" and command.enabled(window)), title
    assert {p.name for p in demo_desk.session.project.pieces} <= offered


def test_the_palette_is_walked_by_arrows_and_says_when_nothing_answers(empty_desk):
    empty_desk.act("palette")
    palette = empty_desk.window.panels.palette
    assert palette.list.currentIndex().row() == 0
    QTest.keyClick(palette.field, Qt.Key.Key_Down)
    assert palette.list.currentIndex().row() == 1
    palette.field.setText("qqqq")
    assert answers(palette) == []
    assert "Nothing" in palette.note.text()
    QTest.keyClick(palette.field, Qt.Key.Key_Return)
    assert palette.isVisible()
    QTest.keyClick(palette.field, Qt.Key.Key_Escape)
    assert not palette.isVisible()


def test_titles_answer_best_as_typed_then_by_word_then_by_letters():
    typed = "save"
    found = sorted(
        ("Save as", "Autosave", "Do save", "Shave", "silver gave", "Lay"),
        key=lambda title: rank(title, typed) or (9, 9),
    )
    assert found[:3] == ["Save as", "Do save", "Autosave"]
    assert rank("Lay", typed) is None
    assert rank("Save as", "SAVE") == (0, 0)


@given(st.text(max_size=12), st.text(max_size=8))
def test_a_title_is_found_by_any_part_of_itself(before, typed):
    words = " ".join(typed.split())
    assert rank(f"{before} {words} end", words) is not None
    assert rank(words, words + "\u2603") is None


def test_the_command_that_opens_the_palette_has_a_key_of_its_own():
    assert command_of("palette").keys == "Ctrl+K"
    assert [c.id for c in COMMANDS if c.keys == "Ctrl+K"] == ["palette"]
