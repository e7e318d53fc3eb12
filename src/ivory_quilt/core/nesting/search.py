"""Better layouts from a good one, by several walkers that meet again and again.

Each walker goes towards goals of its own for a portion of work, counted in places looked at, not
in time; then all meet and share the best. So the same seed gives the same layouts on any machine,
and with any number of threads.
"""

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor, wait
from decimal import Decimal

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.choice import Chooser
from ivory_quilt.core.nesting.field import OverlapField
from ivory_quilt.core.nesting.goal import Goal, GoalKind, Pace
from ivory_quilt.core.nesting.goals import Planner
from ivory_quilt.core.nesting.jigsaw import BEAMS
from ivory_quilt.core.nesting.kernels.relax import SOLVED
from ivory_quilt.core.nesting.kernels.tables import Ints
from ivory_quilt.core.nesting.score import Score, score_of
from ivory_quilt.core.nesting.walk import Walk
from ivory_quilt.core.nesting.world import Solution, World

WALKERS = 2
PORTION = 50_000  # places looked at between two meetings: some 100 ms
LEG = 15_000  # places looked at between two looks at how the goal fares
EASE_AFTER = 60  # rounds before a goal is made easier by the walker that leads
PERSIST = 3  # layouts given up before another walker makes its goal easier
GOAL = 1500  # places that setting a goal takes as long as
MATCH_TURNS = (0, 12)  # goals of the first walker at which a jigsaw is put together
LISTEN = 0.02  # s between two questions whether to stop
MOST_REGIONS = 80  # sheets that are opened at most, besides those in use
PACED = (GoalKind.SHORTEN, GoalKind.LEFTOVER, GoalKind.CHEAPER, GoalKind.PLACE)
IDLE = 24  # goals in a row that fail before a layout at its bound counts as done


class Walker:
    """A walk, a planner, and the best layout that this one knows."""

    def __init__(
        self,
        planner: Planner,
        walk: Walk,
        best: Solution,
        score: Score,
        bound: Decimal,
        *,
        leads: bool,
    ) -> None:
        """Search on from `best`, with a planner and a walk of its own.

        The one that `leads` also does what only one needs to do.
        """
        self.walk, self.planner = walk, planner
        self.best, self.score, self.bound = best, score, bound
        self.goal: Goal | None = None
        self.turn = 0
        self.in_vain = 0
        self.nothing_left = False
        self.eased_at = self.failed_at = 0
        self.leads = leads

    def know(self, best: Solution, score: Score) -> None:
        """Learn of a better layout; a goal that it makes pointless is dropped."""
        self.best, self.score = best, score
        self.in_vain = 0
        goal = self.goal
        self.nothing_left = False
        if goal is None or goal.kind == GoalKind.MATCH:
            return
        if goal.cost is not None and goal.cost < score.cost:
            return
        if goal.kind != GoalKind.SHORTEN or self._is_longer(goal):
            self.goal = None

    def _is_longer(self, goal: Goal) -> bool:
        """Return whether a roll's target is no shorter than the best layout already is."""
        for region, rect in enumerate(goal.target.rects):
            if rect[2] < self.planner.rects[region, 2]:
                reach = self.planner.reach(self.best, region, 0)
                return bool(rect[0] + reach <= rect[2])
        return True

    @property
    def idle(self) -> bool:
        """Whether the bound is met and trying to better the leftover has been in vain."""
        met = self.score.unplaced == 0 and self.score.cost <= self.bound and not self.score.split
        return self.nothing_left or (met and self.in_vain >= IDLE)

    def run(self, quota: int) -> None:
        """Search on until so many places have been looked at."""
        spent = 0
        while spent < quota and not self.walk.flags[0] and not self.idle:
            if self.goal is None:
                self.goal = self._match() or self.planner.next(
                    self.best, self.score, self.turn, self.bound
                )
                self.turn += 1
                spent += GOAL
                if self.goal is None:
                    self.nothing_left = True
                    return
                self.walk.aim(self.goal.target, self.goal.start, self.goal.movable, self.goal.home)
                self.eased_at, self.failed_at = self.walk.rounds, 0
            status = self.walk.work(min(LEG, quota - spent))
            spent += int(self.walk.scratch.looked[0]) + 1
            if status == SOLVED:
                self._reached()
            elif self.walk.failures >= self.goal.tries:
                self._fell_short()
            elif self.goal.eases and self._tired():
                self._ease()

    def _match(self) -> Goal | None:
        """Return the goal of matched edges, at the turns when that is tried."""
        if not self.leads or not self.planner.jigsaw or self.turn not in MATCH_TURNS:
            return None
        return self.planner.matched(self.best, BEAMS[MATCH_TURNS.index(self.turn)])

    def _tired(self) -> bool:
        """Whether a goal should be made easier.

        The walker that leads takes what is near, and soon asks for less; the others are patient:
        most of what is gained late comes from another arrangement, and small steps follow at once.
        """
        if self.leads:
            return self.walk.rounds - self.eased_at > EASE_AFTER
        return self.walk.failures - self.failed_at >= PERSIST

    def _ease(self) -> None:
        """Ask for half of the step only, and go on: most of the work is done."""
        assert self.goal is not None
        self.eased_at, self.failed_at = self.walk.rounds, self.walk.failures
        eased = self.planner.eased(self.goal, self.best)
        if eased is not None:
            self.goal = eased
            self.walk.ease(eased.target)
            self.planner.pace.fell_short()

    def _pace(self) -> Pace:
        assert self.goal is not None
        if self.goal.kind == GoalKind.PLACE and self.planner.placing.pace is not None:
            return self.planner.placing.pace
        return (
            self.planner.leftover_pace if self.goal.kind == GoalKind.LEFTOVER else self.planner.pace
        )

    def _reached(self) -> None:
        assert self.goal is not None
        score = score_of(self.walk.field)
        if score < self.score:
            self.best, self.score = self.walk.solution(), score
            self.in_vain = 0
        else:
            self.in_vain += 1
        if self.goal.kind in PACED:
            self._pace().succeeded()
        else:
            self.planner.pace.failed.pop(self.goal.kind, None)
        self.goal = None

    def _fell_short(self) -> None:
        assert self.goal is not None
        kind = self.goal.kind
        if kind in PACED:
            self._pace().fell_short()
        failed = self.planner.pace.failed
        failed[kind] = failed.get(kind, 0) + 1
        self.in_vain += 1
        self.goal = None


class Search:
    """All walkers, the best layout, and the meetings."""

    def __init__(
        self, world: World, seed: int, flags: Ints, bound: Decimal, threads: int = WALKERS
    ) -> None:
        """Take over `world` as constructed; nothing is searched before it is open.

        The walkers go on `threads` threads, which changes how long it takes and nothing else.
        """
        self.world, self.seed, self.flags, self.bound = world, seed, flags, bound
        self.walkers: list[Walker] = []
        self._pool = ThreadPoolExecutor(threads, thread_name_prefix="lay")

    def open(self, on_pause: Callable[[], bool]) -> None:
        """Make what the walkers need; leaves at once when `on_pause` returns False."""
        self._wait([self._pool.submit(self._make)], on_pause)

    def _make(self) -> None:
        world = self.world
        chooser = Chooser(world)
        _open_regions(world, chooser)
        circles: dict[int, Array] = {}
        walks = [
            Walk(OverlapField(world, circles), self.seed * 1009 + k, self.flags)
            for k in range(WALKERS)
        ]
        self.best = world.snapshot()
        walks[0].field.load(self.best.poses, self.best.where)
        self.score = score_of(walks[0].field)
        for walk in walks:
            leads = walk is walks[0]
            planner = Planner(chooser, world, walk.random, self.flags, leads=leads)
            self.walkers.append(
                Walker(planner, walk, self.best, self.score, self.bound, leads=leads)
            )

    def close(self, *, at_once: bool) -> None:
        """End the threads; `flags[0]` must be set if they are at work.

        With `at_once`, what they are at is not waited for: nobody will look at it.
        """
        self._pool.shutdown(wait=not at_once)

    @property
    def done(self) -> bool:
        """Whether there is nothing left to try, or the bound is met and trying is in vain."""
        return all(w.idle for w in self.walkers)

    def epoch(self, on_pause: Callable[[], bool]) -> bool:
        """Let every walker do its portion, then share; return whether the best got better.

        Leaves at once, and nothing better known, when `on_pause` returns False.
        """
        running = [self._pool.submit(w.run, PORTION) for w in self.walkers]
        if not self._wait(running, on_pause):
            return False
        better = False
        for walker in self.walkers:
            if walker.score < self.score:
                self.best, self.score, better = walker.best, walker.score, True
        for walker in self.walkers:
            if self.score < walker.score:
                walker.know(self.best, self.score)
        return better

    @staticmethod
    def _wait(running: list[Future[None]], on_pause: Callable[[], bool]) -> bool:
        """Return True when all is done, False as soon as `on_pause` says so."""
        while wait(running, timeout=LISTEN).not_done:
            if not on_pause():
                return False
        for future in running:
            future.result()
        return True


def _open_regions(world: World, chooser: Chooser) -> None:
    """Open every sheet that a choice may ask for, so that the arrays need not grow later."""
    for sheet, most in zip(chooser.sheets, chooser.most, strict=True):
        for copy in range(int(most)):
            if len(world.regions) >= MOST_REGIONS:
                return
            world.region_index(sheet.id, copy)
    for roll in world.job.rolls:
        world.region_index(roll.id, 0)
