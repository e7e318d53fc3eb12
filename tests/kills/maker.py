"""A maker at work in a real window, until somebody pulls the plug (see `judge`).

Edits, undo, saves and changes of the shop at random, each told on standard output before and after
it is done, so that the judge knows what had to survive.
"""

import faulthandler
import os
import random
import sys
import time
from decimal import Decimal
from pathlib import Path

from PySide6.QtCore import QTimer

from ivory_quilt.core.document.project import change_piece, set_name
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.demo.project import demo_project
from ivory_quilt.desk.app import make_app, open_window
from ivory_quilt.desk.asking import Discarding
from ivory_quilt.shop.opening import open_store
from ivory_quilt.shop.places import Places

EVERY = (20, 140)  # ms between two steps


def tell(*words):
    """Tell the judge, past all buffers: what is written stays written when the process is gone."""
    os.write(1, (" ".join(map(str, words)) + "\n").encode())


def number_of(project):
    """Return the step that a project is at, which its name says."""
    last = project.name.rsplit(" ", 1)[-1]
    return int(last) if last.isdigit() else 0


class Maker:
    def __init__(self, folder, seed):
        self.random = random.Random(seed)
        self.path = folder / "suit.ivq"
        where = Places(folder / "data", folder / "config")
        self.opened = open_store(where.store)
        if self.opened.problem:
            tell("shop", self.opened.problem)
        self.window, _ = open_window(where, self.opened.store)
        self.window.documents.asking = Discarding(self.window)
        self.window.laying.auto_seconds = 0.1
        self.window.show()
        self.session = self.window.session
        if self.path.exists():
            self.window.documents.open(self.path)
            tell("file", number_of(self.session.project))
        self._take_recovered()
        if not self.session.project.pieces:
            self.session.start(demo_project(), saved=False)
        self.step = max(number_of(self.session.project), int(time.time() * 10) % 10**7)
        self.timer = QTimer()
        self.timer.setSingleShot(True)
        self.timer.timeout.connect(self.work)
        tell("ready", time.time())
        self.timer.start(1)

    def _take_recovered(self):
        """Take the newest unsaved work, as the maker would, and let go of what is older."""
        if not self.window.offer_recovery():
            return
        left = self.window.recovering._left
        tell("offered", *(number_of(one.read().project) for one in left))
        self.window.recovering.panel.take.click()
        tell("taken", number_of(self.session.project))
        self.window.documents.asking.discard = lambda _: True
        while self.window.recovering.panel.isVisible():
            self.window.recovering.panel.drop.click()

    def work(self):
        chance = self.random.random()
        if chance < 0.1 or self.session.path is None:
            self.save()
        elif chance < 0.16:
            tell("undoing")
            self.session.undo()
            tell("edit", number_of(self.session.project), time.time())
        elif chance < 0.22:
            self.shop()
        elif chance < 0.32:
            self.tick()
        else:
            self.edit()
        self.timer.start(self.random.randint(*EVERY))

    def edit(self):
        self.step += 1
        piece = self.random.choice(self.session.project.pieces)

        def change(project):
            project = set_name(project, f"suit {self.step}")
            return change_piece(project, piece.id, count=1 + self.step % 3)

        self.session.edit("work", change)
        tell("edit", self.step, time.time())

    def tick(self):
        """Tick a step, and start a timer: both are on the disk before the hand is told so."""
        self.edit()
        self.window.bench.planner.tick(f"step {self.step}", done=True)
        tell("ticked", self.step)
        timers = self.window.bench.timers
        for timer in timers.timers[:-5]:
            tell("stopping", timer.id.split()[-1])
            timers.stop(timer.id)
        timers.start(f"timer {self.step}", "cuff", 3600)
        tell("timing", self.step)

    def save(self):
        number = number_of(self.session.project)
        tell("saving", number, time.time())
        self.session.save(self.path)
        tell("saved", number, time.time())

    def shop(self):
        name = f"offcut {self.step}"
        tell("adding", self.step)
        self.session.put_stock(
            sheet(f"k{self.step}", name, Foam(6.0, "eva"), (200, 100), owned=1, price=Decimal(1))
        )
        tell("added", self.step)


if __name__ == "__main__":
    faulthandler.enable()
    app = make_app()
    maker = Maker(Path(sys.argv[1]), int(sys.argv[2]))
    app.exec()
