"""The style sheet and fonts: all looks in one place, nothing styled in a screen."""

from functools import cache
from importlib.resources import files

from PySide6.QtGui import QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication

from ivory_quilt.desk.theme.icons import icon_file
from ivory_quilt.desk.theme.palette import DARK, LIGHT, Palette

SANS, MONO = "IBM Plex Sans", "IBM Plex Mono"
_loaded: list[int] = []


class _Text:
    scale = 1.0


def text_size(percent: int) -> None:
    """Show all text so large from now on, in percent of the usual; the theme is applied after."""
    _Text.scale = percent / 100
    words.cache_clear()


def pixels(size: int) -> int:
    """Return a text size in pixels as the maker wants it; never below 12."""
    return max(12, round(size * _Text.scale))


def load_fonts() -> None:
    """Make the shipped fonts known to Qt; without them a bare system shows boxes."""
    if _loaded:
        return
    folder = files("ivory_quilt.data").joinpath("fonts")
    for name in ("IBMPlexSans-Regular", "IBMPlexSans-SemiBold", "IBMPlexMono-Regular"):
        data = folder.joinpath(f"{name}.ttf").read_bytes()
        _loaded.append(QFontDatabase.addApplicationFontFromData(data))


def figures(size: int = 14) -> QFont:
    """Return the font for figures that stand in columns."""
    font = QFont(MONO)
    font.setPixelSize(pixels(size))
    return font


@cache
def words(size: int = 14, *, strong: bool = False) -> QFont:
    """Return the font for words."""
    font = QFont(SANS)
    font.setPixelSize(pixels(size))
    if strong:
        font.setWeight(QFont.Weight.DemiBold)
    return font


def apply_theme(app: QApplication, *, dark: bool) -> Palette:
    """Give the whole application one theme, but its sheet, and return its palette."""
    load_fonts()
    palette = DARK if dark else LIGHT
    app.setStyle("Fusion")
    app.setFont(words())
    qt = QPalette()
    roles = QPalette.ColorRole
    for role, name in (
        (roles.Window, "paper"),
        (roles.Base, "raised"),
        (roles.AlternateBase, "linen"),
        (roles.Button, "linen"),
        (roles.WindowText, "ink"),
        (roles.Text, "ink"),
        (roles.ButtonText, "ink"),
        (roles.ToolTipBase, "raised"),
        (roles.ToolTipText, "ink"),
        (roles.PlaceholderText, "ink_soft"),
        (roles.Highlight, "iris"),
        (roles.HighlightedText, "paper"),
        (roles.Link, "score"),
        (roles.Mid, "thread"),
    ):
        qt.setColor(role, palette.colour(name))
    for role in (roles.Text, roles.ButtonText, roles.WindowText):
        qt.setColor(QPalette.ColorGroup.Disabled, role, palette.colour("thread"))
    app.setPalette(qt)
    return palette


def style_sheet(p: Palette) -> str:
    """Return the style sheet of a palette."""
    check = icon_file("check", p.paper)
    down = icon_file("down", p.ink_soft)
    up = icon_file("up", p.ink_soft)
    return f"""
* {{ font-family: "{SANS}"; font-size: {pixels(14)}px; color: {p.ink}; }}
QMainWindow, QWidget#Desk {{ background: {p.paper}; }}
QWidget#Card, QWidget#Rail, QWidget#Ledger, QWidget#Header {{ background: {p.linen}; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
QLabel {{ background: transparent; }}
QLabel[role="note"] {{ font-size: {pixels(12)}px; color: {p.ink_soft}; }}
QLabel[role="title"] {{ font-size: {pixels(18)}px; font-weight: 600; }}
QLabel[role="heading"] {{ font-weight: 600; }}
QLabel[role="figure"] {{ font-size: {pixels(18)}px; font-family: "{MONO}"; }}
QLabel[role="great"] {{ font-size: {pixels(28)}px; font-family: "{MONO}"; }}
QLabel[role="far"] {{ font-size: {pixels(28)}px; font-weight: 600; }}
QLabel[role="farther"] {{ font-size: {pixels(56)}px; font-family: "{MONO}"; }}
QLabel[role="mono"] {{ font-family: "{MONO}"; }}
QLabel[tone="cut"] {{ color: {p.cut}; }}
QLabel[tone="good"] {{ color: {p.good}; }}
QLabel[tone="heat"] {{ color: {p.heat}; }}
QLabel[tone="soft"] {{ color: {p.ink_soft}; }}
QMenuBar {{ background: {p.linen}; padding: 2px 8px; }}
QMenuBar::item {{ padding: 10px 10px; border-radius: 6px; background: transparent; }}
QMenuBar::item:selected, QMenu::item:selected {{ background: {p.iris}; color: {p.paper}; }}
QMenu {{ background: {p.raised}; border: 1px solid {p.thread}; padding: 4px; }}
QMenu::item {{ padding: 6px 28px 6px 16px; border-radius: 4px; }}
QMenu::item:disabled {{ color: {p.thread}; }}
QMenu::separator {{ height: 1px; background: {p.thread}; margin: 4px 8px; }}
QToolTip {{ background: {p.raised}; color: {p.ink}; border: 1px solid {p.thread}; padding: 6px; }}
QPushButton, QToolButton {{
  background: {p.raised}; border: 1px solid {p.thread}; border-radius: 6px;
  padding: 6px 12px; min-height: 20px;
}}
QToolButton {{ padding: 6px; }}
QPushButton:hover, QToolButton:hover {{ border-color: {p.ink_soft}; }}
QPushButton:pressed, QToolButton:pressed {{ background: {p.linen}; }}
QPushButton:focus, QToolButton:focus {{ border: 2px solid {p.iris}; padding: 5px 11px; }}
QToolButton:focus {{ padding: 5px; }}
QPushButton:disabled, QToolButton:disabled {{ color: {p.thread}; background: {p.linen}; }}
QPushButton[kind="main"] {{
  background: {p.ink}; color: {p.paper}; border-color: {p.ink}; font-weight: 600;
}}
QPushButton[kind="main"]:hover {{ background: {p.ink_soft}; }}
QPushButton[kind="main"]:disabled {{ background: {p.thread}; border-color: {p.thread}; }}
QPushButton[kind="quiet"] {{ border-color: transparent; background: transparent; }}
QPushButton[kind="quiet"]:hover {{ border-color: {p.thread}; }}
QPushButton[kind="quiet"]:focus {{ border: 2px solid {p.iris}; }}
QPushButton[reach="hand"] {{ font-size: {pixels(18)}px; min-height: 52px; padding: 6px 20px; }}
QPushButton:checked, QToolButton:checked {{
  background: {p.ink}; color: {p.paper}; border-color: {p.ink};
}}
QLineEdit, QSpinBox, QDoubleSpinBox, QComboBox, QPlainTextEdit {{
  background: {p.raised}; border: 1px solid {p.thread}; border-radius: 6px;
  padding: 4px 8px; min-height: 22px; selection-background-color: {p.iris};
}}
QLineEdit:focus, QSpinBox:focus, QDoubleSpinBox:focus, QComboBox:focus,
QPlainTextEdit:focus {{
  border: 2px solid {p.iris}; padding: 3px 7px;
}}
QSpinBox QLineEdit, QComboBox QLineEdit {{
  border: none; background: transparent; padding: 0; min-height: 18px;
}}
QSpinBox QLineEdit {{ padding-left: 8px; }}
QLineEdit[wrong="true"] {{ border: 2px solid {p.cut}; padding: 3px 7px; }}
QComboBox::drop-down {{ border: none; width: 24px; }}
QComboBox::down-arrow {{ image: url({down}); width: 12px; height: 12px; }}
QSpinBox::up-button {{
  subcontrol-origin: border; subcontrol-position: top right; border: none; width: 22px;
}}
QSpinBox::down-button {{
  subcontrol-origin: border; subcontrol-position: bottom right; border: none; width: 22px;
}}
QSpinBox::up-arrow {{ image: url({up}); width: 11px; height: 11px; }}
QSpinBox::down-arrow {{ image: url({down}); width: 11px; height: 11px; }}
QComboBox {{ combobox-popup: 0; }}
QComboBox QAbstractItemView {{
  background: {p.raised}; border: 1px solid {p.thread}; selection-background-color: {p.iris};
  selection-color: {p.paper}; outline: none; padding: 4px;
}}
QComboBox QAbstractItemView::item {{ min-height: 28px; padding-left: 4px; }}
QComboBox QAbstractItemView::item:selected {{ background: {p.iris}; color: {p.paper}; }}
QCheckBox::indicator {{
  width: 18px; height: 18px; border: 1px solid {p.ink_soft}; border-radius: 4px;
  background: {p.raised};
}}
QCheckBox::indicator:checked {{
  background: {p.ink}; border-color: {p.ink}; image: url({check});
}}
QCheckBox[role="title"] {{ font-size: {pixels(18)}px; }}
QCheckBox:focus {{ color: {p.iris}; }}
QProgressBar {{
  background: {p.raised}; border: 1px solid {p.thread}; border-radius: 4px; max-height: 8px;
  min-height: 8px; color: transparent;
}}
QProgressBar::chunk {{ background: {p.iris}; border-radius: 3px; }}
QScrollBar {{ background: transparent; width: 12px; height: 12px; }}
QScrollBar::handle {{ background: {p.thread}; border-radius: 4px; margin: 2px; min-height: 32px; }}
QScrollBar::handle:hover {{ background: {p.ink_soft}; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QListWidget::item, QTreeWidget::item {{ padding: 5px 8px; }}
QListWidget::item:selected, QTreeWidget::item:selected {{ background: {p.iris}; color: {p.paper}; }}
QTableWidget, QTableView, QListWidget, QTreeWidget, QTextBrowser {{
  background: {p.raised}; border: 1px solid {p.thread}; border-radius: 6px;
  gridline-color: {p.linen};
  selection-background-color: {p.iris}; selection-color: {p.paper};
  alternate-background-color: {p.raised};
}}
QTabWidget::pane {{ border: none; }}
QTabBar::tab {{
  background: transparent; color: {p.ink_soft}; padding: 8px 14px; border: none;
  border-bottom: 2px solid transparent;
}}
QTabBar::tab:selected {{ color: {p.ink}; border-bottom: 2px solid {p.ink}; }}
QTabBar::tab:focus {{ border-bottom: 2px solid {p.iris}; }}
QHeaderView::section {{
  background: {p.linen}; border: none; padding: 4px 8px; color: {p.ink_soft};
  font-size: {pixels(12)}px;
}}
QGraphicsView {{ background: {p.paper}; border: none; }}
QFrame#Slip {{ background: {p.raised}; border: 1px solid {p.ink_soft}; border-radius: 6px; }}
QFrame#Bar {{ background: {p.raised}; border: 1px solid {p.thread}; border-radius: 6px; }}
QFrame#Bar[tone="heat"] {{ border: 1px solid {p.heat}; }}
QFrame#Bar[tone="cut"] {{ border: 1px solid {p.cut}; }}
"""
