"""One stretch of film with one view: balls at rest, balls on their way, and the shots between.

Between shots the table is calm: what lies there is looked at closely once, and every change since the last
calm is explained: a ball went from here to there, fell, was put down by hand, or is behind somebody.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from ripasso.core.table import TableSpec
from ripasso.core.table.places import Place
from ripasso.film.reading.book import CARRIED, READ, Calm, ShotBook
from ripasso.film.reading.detection.colours import Look, Palette
from ripasso.film.reading.detection.discs import Seen
from ripasso.film.reading.detection.ground import FOLLOWS
from ripasso.film.reading.detection.picture import WHITE, Bytes
from ripasso.film.reading.detection.resting import without_doubles
from ripasso.film.reading.detection.scene import Scene, State, Thing, View, hidden_by, near_people
from ripasso.film.reading.explaining import (
    Found,
    credit_strike,
    crept_on,
    found_again,
    moved,
    origin_of,
    rolled_on,
    taken_away,
)
from ripasso.film.reading.identity import names
from ripasso.film.reading.identity.matching import lefts_of, matched, mover_of
from ripasso.film.reading.identity.naming import Naming
from ripasso.film.reading.identity.out_of_sight import without_hidden
from ripasso.film.reading.motion.shots import Left, ReadShot
from ripasso.film.reading.motion.tracks import Track, Tracker
from ripasso.film.reading.motion.trajectories import ways
from ripasso.film.reading.sight import Sight
from ripasso.film.reading.stirred import balls_at_rest, pushed_in_packs, staying, stirred
from ripasso.film.reading.viewpoints import Viewpoint

#: How long nothing moves before a table is calm, and between two close looks at it, seconds.
CALM_S, LOOK_AGAIN_S = 0.35, 0.6
#: Balls that come back to the table after they fell.
COME_BACK = frozenset({"cue", "yellow", "green", "brown", "blue", "pink", "black"})
#: So long after anything was seen to move a ball may still be rolling out, seconds.
ROLLS_OUT_S = 2.5
#: A view holds while at least this much of the table is cloth.
HOLDS = 0.4
#: A ball that ran this far by itself, in ball radii, was struck.
RAN_RADII = 4.0
#: A ball that runs this soon after it came into sight was not struck there, seconds.
ROLLS_ON_S = 0.3
#: What stayed within this of where it was first seen, in ball radii, did not run.
STIRRED_RADII = 0.4
#: What is slower than this when the film ends has come to rest, m/s.
SLOW_M_S = 0.05
#: How near to its time a shot is meant, seconds.
SAID_S = 0.1
#: So long after all seemed to stand a ball may still creep on, seconds.
CREEPS_S = 1.0
#: As many new balls at once are a new rack.
NEW_RACK = 5
#: The ground follows the lamp every so many frames.
FOLLOW_EVERY = 15


class Follower:
    """Follows one stretch; give it every frame in order, take the shots it finds."""

    def __init__(
        self,
        viewpoint: Viewpoint,
        spec: TableSpec,
        palette: Palette,
        balls: Sequence[str],
        rack: Sequence[Place] = (),
        *,
        lowest_first: bool = False,
    ) -> None:
        """`rack` is where balls stand together before the break; `lowest_first`: the lowest is met first."""
        self._set_up = tuple(rack)
        self._scene = Scene(viewpoint.ground, viewpoint.discs)
        self._tracker = Tracker(spec.ball_radius)
        self._viewpoint, self._spec = viewpoint, spec
        self._naming = Naming(palette, balls, lowest_first=lowest_first)
        self._keys = 0
        self._rack = 1
        self._moved_s = self._looked_s = self._shot_s = -1e9
        self._begun_s: float | None = None
        self._first_look, self._look_soon = True, False
        self._book = ShotBook(spec)
        self._before: dict[int, tuple[Place, float]] = {}
        self._signature: tuple[Any, ...] = ()
        self._found_again: dict[int, float] = {}
        self.racks: dict[int, list[Thing]] = {1: self._scene.things}
        self.sight = Sight()
        self._ceiling = WHITE
        self._last_frame: tuple[float, Bytes, View, Callable[[], Bytes]] | None = None

    @property
    def shots(self) -> list[ReadShot]:
        """All shots so far, the last one as far as it is known."""
        return self._book.shots

    @property
    def things(self) -> list[Thing]:
        """The balls of the rack that is on the table."""
        return self._scene.things

    def add(
        self,
        number: int,
        time_s: float,
        picture: Bytes,
        look_closely: Callable[[], Bytes],
        ceiling: float = WHITE,
    ) -> list[ReadShot]:
        """Take in one frame; returns the shots that are complete now.

        `picture` is the small one; `look_closely` gives the large one (red, green, blue), where it is wanted.
        Light above `ceiling` is cut off.
        """
        self._ceiling = ceiling
        view = self._scene.look(picture, time_s, ceiling)
        if view.seen < HOLDS:
            self.sight.unseen()
            return []
        self.sight.seen(time_s)
        self._last_frame = (time_s, picture, view, look_closely)
        self._follow(number, time_s, view)
        if self._begun_s is None and time_s - self._moved_s > CALM_S:
            self.sight.begin_anew()
        done: list[ReadShot] = []
        if (
            time_s - self._moved_s > CALM_S
            and time_s - self._looked_s > LOOK_AGAIN_S
            and not self._tracker.is_fresh(time_s, CALM_S)
            and not self._scene.just_left(time_s, CALM_S)
        ):
            signature = signature_of(view, self._scene.resting(), self._spec.ball_radius)
            if signature != self._signature or self._begun_s is not None:
                self._looked_s = time_s
                done = self._settle(time_s, picture, view, look_closely())
                seen = self._scene.look(picture, time_s, ceiling)
                after = signature_of(seen, self._scene.resting(), self._spec.ball_radius)
                self._signature = () if self._look_soon else after
        if number % FOLLOW_EVERY == 0:
            self._viewpoint.ground.follow(picture, view.other, FOLLOWS)
        return done

    def see_from(self, viewpoint: Viewpoint, picture: Bytes, time_s: float) -> None:
        """Another camera shows the table from this frame on; what lies there is what lay there."""
        self._viewpoint = viewpoint
        self._scene.see_from(viewpoint.ground, viewpoint.discs, picture, time_s)
        self._signature, self._looked_s = (), -1e9

    def finish(self) -> list[ReadShot]:
        """The film is over: what was begun is given as far as it is known."""
        done: list[ReadShot] = []
        if self._begun_s is not None and self._last_frame is not None:
            time_s, picture, view, look_closely = self._last_frame
            if self._tracker.fastest(time_s, CALM_S) < SLOW_M_S:
                done = self._settle(time_s, picture, view, look_closely())
        self._last_frame = None
        return [*done, *self._book.close_pending()]

    def names(self, rack: int | None = None) -> dict[int, names.Named]:
        """The names of the balls of a rack (None: the one on the table), as far as they are known now."""
        things = self.racks[rack] if rack is not None else self.things
        return self._naming.named(things, self._book.met(rack if rack is not None else self._rack))

    def say(self, time_s: float, place: Place, ball: str) -> bool:
        """Somebody says which ball lies at a place at a time: its thing has that name from now on."""
        lying = self._book.lying_at(time_s, place, SAID_S)
        if lying is None:
            return False
        rack, key = lying
        self._naming.say(key, ball, self.racks[rack])
        return True

    def _follow(self, number: int, time_s: float, view: View) -> None:
        for track in self._tracker.add(number, time_s, view.blobs):
            taken = {t.origin for t in self._tracks()}
            track.origin = origin_of(track, [t for t in self._scene.resting() if t.key not in taken])
        for track in self._tracker.moving():
            if len(track.points) < 3:
                continue
            self._moved_s = time_s
            if self._begun_s is None and track.span_m > RAN_RADII * self._spec.ball_radius:
                self._begun_s = track.first.time_s

    def _settle(self, time_s: float, picture: Bytes, view: View, full: Bytes) -> list[ReadShot]:
        """The table is calm: say what became of every ball since it was last."""
        stay = self._staying()
        if self._begun_s is not None:
            self._lay_pushed(stay, picture, time_s, full)
        known = [t.place for t in stay if t.place]
        rack = self._set_up if self._first_look else ()
        moved_places = stirred(self._scene.resting(), stay, self._spec.ball_radius)
        seen = balls_at_rest(
            full, view, self._viewpoint, self._spec, known, moved_places, rack, self._first_look
        )
        most = room_for(self.things, stay, self._naming.most, self.names())
        found = self._standing(time_s, without_doubles(seen, most, self._spec.ball_radius))
        if self._look_soon and self._begun_s is not None and time_s - self._moved_s < ROLLS_OUT_S:
            return []  # a ball rolls out too slowly to be seen to move: the shot is not over
        free = [
            not near_people(view.people, self._viewpoint.discs, self._viewpoint.ground, seen.place)
            for seen in found
        ]
        alone = [seen.place for seen, is_free in zip(found, free, strict=True) if is_free]
        is_first_look = not self._viewpoint.looks.knows_white
        is_other = self._viewpoint.looks.see_white(full, alone or [seen.place for seen in found])
        # The first white that a camera shows says nothing against what others showed.
        if is_other and (not is_first_look or self._first_look):
            self._look_anew(full)
        looks = self._viewpoint.looks.of(full, [seen.place for seen in found], known)
        is_calm = not self._first_look and self._begun_s is None
        if is_calm and is_new_rack(self.things, found, stay):
            return self._begin_rack(time_s, picture, found, looks)
        pool = [t for t in self.things if t not in stay or t.behind_person]
        same = matched(found, looks, pool, self._led(pool), self._spec)
        balls = [
            Found(seen, look, same.get(i))
            for i, (seen, look) in enumerate(zip(found, looks, strict=True))
            if i in same or (free[i] and not seen.guessed)
        ]
        if self._begun_s is not None:
            # What lies still may show more of itself in this light than when it came there.
            self._look_at(self._scene.clear(view), full)
        return self._explain(time_s, picture, view, balls, stay)

    def _staying(self) -> list[Thing]:
        """What lies as it lay, or is behind somebody and did not run."""
        far = [t for t in self._tracks() if t.span_m > RAN_RADII * self._spec.ball_radius]
        return staying(self._scene.resting(), far, was_struck=self._begun_s is not None)

    def _lay_pushed(self, stay: Sequence[Thing], picture: Bytes, time_s: float, full: Bytes) -> None:
        """What lies beside a ball of its pack that moved may have been pushed, too."""
        moved_to = pushed_in_packs(self._scene.resting(), stay, full, self._viewpoint)
        for thing in stay:
            if thing.key in moved_to:
                self._lay(thing, picture, time_s, Seen(moved_to[thing.key], thing.clearness), None)

    def _standing(self, time_s: float, found: list[Seen]) -> list[Seen]:
        """Those that have been still for a while; the others ask for another look soon."""
        standing = [
            seen for seen in found if self._first_look or self._tracker.stands(seen.place, time_s, CALM_S)
        ]
        self._look_soon = len(standing) < len(found)
        return standing

    def _look_anew(self, full: Bytes) -> None:
        """What was seen by another white is forgotten where it can be seen again."""
        same = [t for t in self._scene.resting() if t.state is State.SAME]
        for thing in same:
            thing.looks.clear()
        self._look_at(same, full)

    def _look_at(self, things: Sequence[Thing], full: Bytes) -> None:
        looks = self._viewpoint.looks.of(full, [thing.place for thing in things if thing.place])
        for thing, look in zip(things, looks, strict=True):
            names.remember(thing, look)

    def _tracks(self) -> list[Track]:
        return [*self._tracker.ended, *self._tracker.active]

    def _begin_rack(
        self, time_s: float, picture: Bytes, found: Sequence[Seen], looks: Sequence[Look | None]
    ) -> list[ReadShot]:
        """New balls are set up: those that lie there still are taken along."""
        done = self._book.close_pending()
        old = [t for t in self._scene.resting() if t.state is State.SAME]
        self._scene.things = []
        self._rack += 1
        self.racks[self._rack] = self._scene.things
        for thing in old:
            assert thing.place is not None
            taken_along = self._new_thing(picture, time_s, Seen(thing.place, thing.clearness), None)
            taken_along.looks.extend(thing.looks)
        for seen, look in zip(found, looks, strict=True):
            self._new_thing(picture, time_s, seen, look)
        self._before = layout_of(self._scene.resting())
        self._tracker.clear()
        self._begun_s = None
        return done

    def _new_thing(self, picture: Bytes, time_s: float, seen: Seen, look: Look | None) -> Thing:
        thing = Thing(self._keys)
        self._keys += 1
        self._scene.things.append(thing)
        self._lay(thing, picture, time_s, seen, look)
        return thing

    def _lay(self, thing: Thing, picture: Bytes, time_s: float, seen: Seen, look: Look | None) -> None:
        thing.lies(self._viewpoint.discs, self._viewpoint.ground, picture, seen.place, time_s, self._ceiling)
        thing.clearness = seen.clearness
        names.remember(thing, look)

    def _led(self, pool: Sequence[Thing]) -> dict[int, Place]:
        """Where the ways of balls lead that may have moved."""
        movers = [mover_of(thing, None) for thing in pool if thing.place is not None]
        found = ways(movers, self._running()) if self._begun_s is not None else {}
        return {key: track.last.place for key, track in found.items()}

    def _running(self) -> list[Track]:
        return [t for t in self._tracks() if t.span_m > STIRRED_RADII * self._spec.ball_radius]

    def _explain(
        self, time_s: float, picture: Bytes, view: View, balls: Sequence[Found], stay: Sequence[Thing]
    ) -> list[ReadShot]:
        """Say of every ball that is found, and of every one that is gone, what became of it."""
        was_struck = self._begun_s is not None
        gone = self._gone(balls, stay, was_struck)
        movers = moved(balls, self._spec.ball_radius) if was_struck else []
        if movers and not gone and self._still_rolls({mover.key for mover in movers}):
            rolled_on(self._book, balls, self._moved_s)
            self._tracker.clear()
            was_struck, movers = False, []
        if not was_struck and time_s - self._shot_s < CREEPS_S:
            crept_on(self._book, balls, self._spec.ball_radius, time_s)
        # Only a ball that was lost runs: the shot that lost it goes on.
        done = self._book.close_pending() if was_struck and (movers or gone) else []
        for key in found_again(self._book, balls, self._moved_s if was_struck else None):
            self._found_again[key] = time_s
        movers += taken_away(self._book, gone, time_s, was_struck)
        since = {t.key: t.left_s for t in self.things}
        lefts = lefts_of(movers, self._running(), since, time_s, self._spec)
        if was_struck:
            credit_strike(self.things, lefts)
        appeared = self._lay_all(balls, picture, time_s)
        if was_struck and lefts:
            self._shot_s = time_s
            done += self._shot(view, lefts, appeared)
        elif not self._first_look:
            self._lay_before(appeared)
        self._first_look = False
        self._naming.learn(self.things)
        if was_struck or self._book.pending is None:
            self._tracker.clear()
        self._begun_s = None
        self._before = layout_of(self._scene.resting())
        return done

    def _gone(self, balls: Sequence[Found], stay: Sequence[Thing], was_struck: bool) -> list[Thing]:
        """What lay there and is found nowhere; after a strike without what may be hidden."""
        there = [ball.thing for ball in balls]
        gone = [t for t in self._scene.resting() if t not in stay and t not in there]
        if not was_struck:
            return gone
        places = [ball.seen.place for ball in balls]
        return without_hidden(gone, places, self._running(), self._spec.ball_radius)

    def _lay_all(self, balls: Sequence[Found], picture: Bytes, time_s: float) -> list[Thing]:
        """Every ball lies where it was found; those that were not known before are returned."""
        appeared = []
        for ball in balls:
            if ball.thing is None:
                appeared.append(self._new_thing(picture, time_s, ball.seen, ball.look))
            else:
                self._lay(ball.thing, picture, time_s, ball.seen, ball.look)
        return appeared

    def _lay_before(self, appeared: Sequence[Thing]) -> None:
        for thing in appeared:
            if thing.place is not None:
                self._book.lay_there_before(self._rack, thing.key, thing.place)

    def _still_rolls(self, keys: set[int]) -> bool:
        """Whether all that runs had just come out from behind somebody: it was rolling there already."""
        assert self._begun_s is not None
        return all(self._begun_s - self._found_again.get(key, -1e9) < ROLLS_ON_S for key in keys)

    def _shot(self, view: View, lefts: Sequence[Left], appeared: Sequence[Thing]) -> list[ReadShot]:
        assert self._begun_s is not None
        cue = next((key for key, name in self.names().items() if name.ball == "cue"), None)
        before, after = self._before, layout_of(self._scene.resting())
        came = frozenset(thing.key for thing in appeared)
        calm = Calm(self._rack, cue, self._begun_s, self._moved_s, before, after, came)

        def is_hidden(place: Place) -> bool:
            return hidden_by(view.people, self._viewpoint.discs, self._viewpoint.ground, place)

        return self._book.add(calm, lefts, is_hidden, self.sight.take_share())


def is_new_rack(things: Sequence[Thing], found: Sequence[Seen], stay: Sequence[Thing]) -> bool:
    """Whether so many balls came to the table that nobody put them down one by one."""
    missing = sum(t.place is not None for t in things if t not in stay)
    return len(found) - missing >= NEW_RACK


def room_for(
    things: Sequence[Thing], stay: Sequence[Thing], most: int, called: Mapping[int, names.Named]
) -> int:
    """How many of the game's `most` balls may lie elsewhere than those that stay and those that fell.

    `called` are the names of things: the cue ball comes back, and so do colours.
    """

    def fell(thing: Thing) -> bool:
        return thing.place is None and thing.key in called and called[thing.key].ball not in COME_BACK

    return most - sum(thing in stay or fell(thing) for thing in things)


def layout_of(resting: Sequence[Thing]) -> dict[int, tuple[Place, float]]:
    """The places of balls at rest, and how sure each is."""
    return {t.key: (t.place, _sure(t)) for t in resting if t.place is not None}


def _sure(thing: Thing) -> float:
    """How sure the place of a thing is."""
    base = CARRIED if thing.behind_person else READ
    return base * (0.8 + 0.2 * min(1.0, thing.clearness / 0.4))


def signature_of(view: View, resting: Sequence[Thing], radius_m: float) -> tuple[Any, ...]:
    """What is not explained in a frame, coarsely: the same again needs no second look."""
    step = radius_m / 2
    blobs = tuple(sorted((round(b.place[0] / step), round(b.place[1] / step)) for b in view.blobs))
    packs = tuple(sorted((round(u), round(v)) for u, v, _ in view.packs))
    states = tuple(
        (t.key, t.state.value) for t in resting if t.state is not State.SAME and not t.behind_person
    )
    return blobs, packs, states
