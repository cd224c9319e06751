"""Let fall: parts dropped onto the ground by simple rigid steps, to look at how they come to lie.

Every part is its convex hull, of a dense one what its outermost places in some hundred directions
span, with a mass spread evenly over its corners; what it meets is the ground, by impulses at its
corners (D. Baraff, An introduction to physically based modelling, 1997), and the others, by the
largest ball that fits round its middle. Fixed steps in a fixed order: the same parts always fall
alike."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.spatial import ConvexHull, QhullError
from scipy.spatial.transform import Rotation

from cutcore.errors import StepError
from cutcore.geometry.arrays import Floats, Ints, cross
from cutcore.mesh.mesh import Mesh
from cutcore.progress import come_to

MOST_FALLING = 300
STEPS_A_SECOND = 120
SECONDS = 4.0
# One picture for so many steps.
STEPS_A_FRAME = 8
# Times the size of all that falls, in a second squared: a pile falls over in about a second.
GRAVITY = 6.0
BOUNCE = 0.15
FRICTION = 0.6
# How often contacts are gone over in a step.
ROUNDS = 6
# What is left of speeds after a second; of those of what lies and hardly moves, after a step.
AIR = 0.7
REST = 0.8
# Slower than this, times the size in a second, is hardly moving.
SLOW = 0.03


@dataclass(frozen=True, eq=False)
class Fall:
    """How parts fall: `turn (k, n, 4)` as quaternions (x, y, z, w) and `move (k, n, 3)` take each
    part from where it stood to where it is in each of k pictures; `seconds (k,)` says when."""

    turn: Floats
    move: Floats
    seconds: Floats


@dataclass(eq=False)
class _Bodies:
    """Parts on their way: `corner (p, 3)` are the corners of all hulls about their middles, `owner
    (p,)` whose; `spin (n, 3, 3)` takes turning impulses to turning speeds at the start."""

    corner: Floats
    owner: Ints
    place: Floats
    ball: Floats
    spin: Floats
    turn: Floats = field(init=False)
    speed: Floats = field(init=False)
    turning: Floats = field(init=False)

    def __post_init__(self) -> None:
        count = len(self.place)
        self.turn = np.broadcast_to(np.eye(3), (count, 3, 3)).copy()
        self.speed = np.zeros((count, 3))
        self.turning = np.zeros((count, 3))


def fall(meshes: Sequence[Mesh], *, ground: float | None = None) -> Fall:
    """Let parts, as they stand, fall along -y onto a level ground; without one, onto what they stand
    on: the height of their lowest corner.

    Raises StepError for none, or for more than can be followed."""
    if not 1 <= len(meshes) <= MOST_FALLING:
        raise StepError(f"from one to {MOST_FALLING} parts can be let fall", where="parts")
    points = [mesh.points[mesh.used] for mesh in meshes]
    low = min(float(places[:, 1].min()) for places in points)
    floor = low if ground is None else min(ground, low)
    whole = np.concatenate(points)
    size = float(np.linalg.norm(np.ptp(whole, axis=0))) or 1.0
    bodies = _bodies(points)
    start = bodies.place.copy()
    dt = 1.0 / STEPS_A_SECOND
    frames: list[tuple[Floats, Floats]] = []
    steps = round(SECONDS * STEPS_A_SECOND)
    for step in range(steps + 1):
        if step % STEPS_A_FRAME == 0:
            come_to(f"falling, {step // STEPS_A_FRAME}", step / steps)
            frames.append((bodies.turn.copy(), bodies.place.copy()))
        bodies.speed[:, 1] -= GRAVITY * size * dt
        bodies.speed *= AIR**dt
        bodies.turning *= AIR**dt
        bodies.place += dt * bodies.speed
        bodies.turn = Rotation.from_rotvec(dt * bodies.turning).as_matrix() @ bodies.turn
        _push_apart(bodies, size)
        _meet_ground(bodies, floor, size)
    turns = np.array([turn for turn, _ in frames])
    places = np.array([place for _, place in frames])
    move = places - np.einsum("knij,nj->kni", turns, start)
    quaternions = Rotation.from_matrix(turns.reshape(-1, 3, 3)).as_quat()
    return Fall(
        quaternions.reshape(len(frames), len(meshes), 4),
        move,
        np.arange(len(frames), dtype=np.float64) * (STEPS_A_FRAME * dt),
    )


def _bodies(points: list[Floats]) -> _Bodies:
    corners, middles, balls, spins = [], [], [], []
    for places in points:
        hull, ball, middle = _hull(places)
        local = hull - middle
        spread = local.T @ local / len(local)
        # A flat or thin part still resists being turned about every axis.
        least = 1e-3 * float(np.trace(spread)) or 1.0
        inertia = np.trace(spread) * np.eye(3) - spread + least * np.eye(3)
        corners.append(local)
        middles.append(middle)
        balls.append(ball)
        spins.append(np.linalg.inv(inertia))
    owner = np.repeat(np.arange(len(points)), [len(local) for local in corners])
    return _Bodies(
        np.concatenate(corners), owner, np.array(middles), np.array(balls), np.array(spins)
    )


def _ways(count: int) -> Floats:
    """Directions (count, 3) spread evenly, and those of the axes, which many parts lie along."""
    height = 1 - (2 * np.arange(count) + 1) / count
    turn = np.pi * (3 - np.sqrt(5)) * np.arange(count)
    across = np.sqrt(1 - height**2)
    spiral = np.stack([across * np.cos(turn), height, across * np.sin(turn)], axis=1)
    return np.concatenate([spiral, np.eye(3), -np.eye(3)])


# Outermost places are looked for in these directions.
WAYS = _ways(122)
# Parts of more places than this are looked at in these alone.
MOST_CORNERS = 500
# So many places are looked at at once.
AT_ONCE = 20_000


def _outermost(places: Floats) -> Floats:
    """The places that are the furthest out in some direction, each once, in their order."""
    best = np.full(len(WAYS), -np.inf)
    which = np.zeros(len(WAYS), dtype=np.int64)
    for begin in range(0, len(places), AT_ONCE):
        out = WAYS @ places[begin : begin + AT_ONCE].T
        furthest = out.argmax(axis=1)
        reach = out[np.arange(len(WAYS)), furthest]
        further = reach > best
        best[further], which[further] = reach[further], begin + furthest[further]
    return places[np.unique(which)]


def _hull(places: Floats) -> tuple[Floats, float, Floats]:
    """The outermost of some places, the radius of a ball that fits between them round their middle,
    and that; of what is flat no ball."""
    if len(places) > MOST_CORNERS:
        places = _outermost(places)
    try:
        hull = ConvexHull(places)
    except (QhullError, ValueError):
        return places, 0.0, places.mean(axis=0)
    corners = places[np.sort(hull.vertices)]
    middle = corners.mean(axis=0)
    inside = -(hull.equations[:, :3] @ middle + hull.equations[:, 3])
    return corners, float(max(inside.min(), 0.0)), middle


def _push_apart(bodies: _Bodies, size: float) -> None:
    """Balls that lie in each other are moved apart, and don't come nearer any more."""
    away = bodies.place[:, None] - bodies.place[None]
    gap = np.linalg.norm(away, axis=2)
    first, second = np.nonzero(np.triu(gap < bodies.ball[:, None] + bodies.ball[None], 1))
    if len(first) == 0:
        return
    between = np.maximum(gap[first, second], 1e-9 * size)[:, None]
    way = away[first, second] / between
    deep = (bodies.ball[first] + bodies.ball[second])[:, None] - between
    nearing = np.minimum(
        np.einsum("ij,ij->i", bodies.speed[first] - bodies.speed[second], way), 0.0
    )[:, None]
    count = np.bincount(np.concatenate([first, second]), minlength=len(bodies.place))
    share = 0.5 / np.maximum(count, 1)
    for which, sign in ((first, 1.0), (second, -1.0)):
        pushed = sign * share[which][:, None] * way
        bodies.place += _summed(which, 0.2 * deep * pushed, len(bodies.place))
        bodies.speed -= _summed(which, nearing * pushed, len(bodies.place))


def _meet_ground(bodies: _Bodies, floor: float, size: float) -> None:
    """Impulses at all corners that have come below the ground, then these are lifted out of it."""
    owner = bodies.owner
    arm = np.einsum("pij,pj->pi", bodies.turn[owner], bodies.corner)
    height = bodies.place[owner, 1] + arm[:, 1] - floor
    down = np.flatnonzero(height < 0)
    if len(down) == 0:
        return
    whose, arm = owner[down], arm[down]
    count = np.bincount(whose, minlength=len(bodies.place))
    spin = np.einsum("nij,njk,nlk->nil", bodies.turn, bodies.spin, bodies.turn)
    up = np.array([0.0, 1.0, 0.0])
    for _ in range(ROUNDS):
        speed = bodies.speed[whose] + cross(bodies.turning[whose], arm)
        falling = speed[:, 1]
        hit = -(1 + BOUNCE * (falling < -SLOW * size)) * falling
        hit = np.maximum(hit, 0.0) / _yielding(spin, whose, arm, up)
        slide = speed - falling[:, None] * up
        fast = np.linalg.norm(slide, axis=1)
        way = slide / np.maximum(fast, 1e-12 * size)[:, None]
        hold = np.minimum(fast / _yielding(spin, whose, arm, way), FRICTION * hit)
        push = (hit[:, None] * up - hold[:, None] * way) / count[whose][:, None]
        bodies.speed += _summed(whose, push, len(bodies.place))
        turned = np.einsum("pij,pj->pi", spin[whose], cross(arm, push))
        bodies.turning += _summed(whose, turned, len(bodies.place))
    deepest = np.zeros(len(bodies.place))
    np.minimum.at(deepest, whose, height[down])
    bodies.place[:, 1] -= deepest
    reach = np.sqrt((bodies.corner**2).sum(axis=1).max())
    slow = np.linalg.norm(bodies.speed, axis=1) + reach * np.linalg.norm(bodies.turning, axis=1)
    lying = (count > 0) & (slow < 4 * SLOW * size)
    bodies.speed[lying] *= REST
    bodies.turning[lying] *= REST


def _summed(whose: Ints, values: Floats, count: int) -> Floats:
    """The sums (count, 3) of the values (p, 3) of each."""
    return np.stack([np.bincount(whose, column, count) for column in values.T], axis=1)


def _yielding(spin: Floats, whose: Ints, arm: Floats, way: Floats) -> Floats:
    """How fast the places of arms (p, 3) get along a way by an impulse along it, for a mass of 1."""
    turned = np.einsum("pij,pj->pi", spin[whose], cross(arm, np.broadcast_to(way, arm.shape)))
    return np.asarray(
        1.0 + np.einsum("pi,pi->p", cross(turned, arm), np.broadcast_to(way, arm.shape))
    )
