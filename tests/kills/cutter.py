"""A maker in cutting mode, until somebody pulls the plug (see `cutting_judge`).

Sheets begun, parts ticked, spoiled, laid again on their sheet, undone, sheets done, the project
saved, at random; what the project holds is told after each, so that the judge knows what had to
survive.
"""

import faulthandler
import random
import sys
import time
from pathlib import Path

from PySide6.QtCore import QTimer

from ivory_quilt.core.stock.spent_sheet import CutState
from ivory_quilt.desk.app import make_app, open_window
from ivory_quilt.desk.asking import Discarding
from ivory_quilt.shop.opening import open_store
from ivory_quilt.shop.places import Places
from tests.kills.maker import tell

EVERY = (5, 60)  # ms between two steps
LETTERS = {
    CutState.WAITING: "w",
    CutState.CUT: "c",
    CutState.CHANGED: "h",
    CutState.SPOILED: "s",
}


def spent_text(spent):
    """Return the cut sheets of a project in a word: each with its parts' states."""
    return "/".join(
        f"{s.id}:{'k' if s.under_knife else 'd'}:{''.join(LETTERS[p.state] for p in s.parts)}"
        for s in spent
    )


class Cutter:
    def __init__(self, folder, seed):
        self.random = random.Random(seed)
        self.path = folder / "suit.ivq"
        where = Places(folder / "data", folder / "config")
        self.opened = open_store(where.store)
        self.window, _ = open_window(where, self.opened.store)
        self.window.documents.asking = Discarding(self.window)
        self.window.laying.auto_seconds = 0.1
        self.window.show()
        self.session = self.window.session
        self.window.documents.open(self.path)
        if self.window.offer_recovery():
            self.window.recovering.panel.take.click()
            self.window.documents.asking.discard = lambda _: True
            while self.window.recovering.panel.isVisible():
                self.window.recovering.panel.drop.click()
        self.window.go("cut")
        self.cut = self.window.stations["cut"]
        self.cut.show_list.click()
        self.timer = QTimer()
        self.timer.setSingleShot(True)
        self.timer.timeout.connect(self.work)
        self.now()
        tell("ready", time.time())
        self.timer.start(1)

    def now(self):
        tell("now", spent_text(self.session.project.spent) or "-")

    def work(self):
        knife = self.cut.knife
        tell("doing")
        if knife.beginning:
            pass
        elif knife.sheet is None:
            self.next_sheet()
        elif knife.present is None or self.random.random() < 0.005:
            knife.close(knife.left())
        else:
            self.tick()
        self.now()
        self.timer.start(self.random.randint(*EVERY))

    def next_sheet(self):
        begun = self.cut.knife.open_sheets
        if begun:
            self.cut.mode.go_on(begun[0].id)
            return
        to_cut = self.cut.list.work.to_cut()
        if to_cut and not self.session.plan.unlaid:
            self.cut.mode.ask(self.random.choice(to_cut))
            self.cut.mode.before.start.click()

    def tick(self):
        knife, chance = self.cut.knife, self.random.random()
        if chance < 0.7:
            knife.mark(CutState.CUT)
        elif chance < 0.78:
            knife.mark(CutState.CHANGED, "trimmed")
        elif chance < 0.81:
            knife.mark(CutState.SPOILED, "dull blade")
        elif chance < 0.85:
            knife.put_here()
        elif chance < 0.93:
            self.session.undo()
        elif chance < 0.97:
            self.session.redo()
        else:
            self.session.save(self.path)


if __name__ == "__main__":
    faulthandler.enable()
    app = make_app()
    cutter = Cutter(Path(sys.argv[1]), int(sys.argv[2]))
    app.exec()
