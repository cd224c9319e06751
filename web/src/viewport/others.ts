/** The parts beside the one in hand: quiet paper shapes, each read when it first comes into sight. */
import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  type Camera,
  CustomBlending,
  Frustum,
  Group,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  OneFactor,
  OneMinusSrcAlphaFactor,
  SrcAlphaFactor,
  Vector3,
} from 'three';
import type { Standing } from '../space/standing';
import { fetchOther, type MeshPayload } from './meshPayload';
import { isNight, themeColour } from './theme';

/** A part beside the one in hand, and the box round it in its own places. */
export interface Other {
  id: number;
  snapshot: number;
  faces: number;
  low: readonly number[];
  high: readonly number[];
  standing: Standing;
}

/** At once; the others wait for their turn. */
const READ_AT_ONCE = 3;
/** Of larger parts the wire would be a grey cloud. */
const MOST_FACES_WIRED = 4000;

interface Shape {
  surface: BufferGeometry;
  wire: BufferGeometry;
  origin: readonly number[];
}

/** Shapes by their snapshots: another part taken in hand need not read them again. */
const shapes = new Map<number, Shape>();
const SHAPES_KEPT = 400;

/** Blended as what is transparent, but drawn first and not last. */
const BEFORE_THE_HAND = {
  transparent: false,
  blending: CustomBlending,
  blendSrc: SrcAlphaFactor,
  blendDst: OneMinusSrcAlphaFactor,
  blendSrcAlpha: OneFactor,
  blendDstAlpha: OneMinusSrcAlphaFactor,
} as const;

export class Others extends Group {
  /** Drawn before the part in hand, which covers it wherever it stands: over what is worked on lies only a breath of wire. */
  private readonly surface = new MeshLambertMaterial({
    ...BEFORE_THE_HAND,
    opacity: 0.5,
    flatShading: true,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  });
  private readonly wire = new LineBasicMaterial({ ...BEFORE_THE_HAND, opacity: 0.2 });
  private readonly breath = new LineBasicMaterial({ transparent: true, opacity: 0.07, depthWrite: false });
  /** The part in hand is drawn as if the others were not there. */
  private readonly forgetDepth = new Mesh(new BufferGeometry(), new MeshBasicMaterial());
  private list: Other[] = [];
  private readonly drawn = new Map<number, Group>();
  private readonly reading = new Set<number>();
  private readonly failed = new Set<number>();

  constructor(private readonly wake: () => void) {
    super();
    this.forgetDepth.renderOrder = -8;
    this.forgetDepth.frustumCulled = false;
    this.forgetDepth.onBeforeRender = (renderer) => renderer.clearDepth();
    this.add(this.forgetDepth);
    this.paint();
  }

  paint(): void {
    this.surface.color = themeColour(isNight() ? 'soft' : 'card');
    this.surface.opacity = isNight() ? 0.32 : 0.5;
    for (const wire of [this.wire, this.breath]) wire.color = themeColour(isNight() ? 'paper' : 'ink');
  }

  show(list: Other[]): void {
    this.list = list;
    this.failed.clear();
    const wanted = new Map(list.map((one) => [one.id, one]));
    for (const [id, group] of this.drawn) {
      const one = wanted.get(id);
      if (one && group.userData.snapshot === one.snapshot) place(group, one.standing);
      else {
        this.remove(group);
        this.drawn.delete(id);
      }
    }
    this.wake();
  }

  /** The box round all of them on the table. */
  box(): Box3 {
    const whole = new Box3();
    for (const one of this.list) whole.union(boxOf(one));
    return whole;
  }

  /** How many are drawn, of how many. */
  get state(): string {
    return `${this.drawn.size} of ${this.list.length}`;
  }

  /** Read what can be seen and is not there yet, the nearest first. */
  readWhatIsSeen(camera: Camera): void {
    const seen = new Frustum().setFromProjectionMatrix(
      new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
    );
    const missing = this.list
      .filter(({ id, snapshot }) => !this.drawn.has(id) && !this.reading.has(snapshot) && !this.failed.has(snapshot))
      .map((one) => ({ one, box: boxOf(one) }))
      .filter(({ box }) => seen.intersectsBox(box))
      .sort((a, b) => a.box.distanceToPoint(camera.position) - b.box.distanceToPoint(camera.position));
    for (const { one } of missing) {
      const known = shapes.get(one.snapshot);
      if (known) this.put(one, known);
      else if (this.reading.size < READ_AT_ONCE) void this.read(one);
    }
  }

  private async read({ snapshot }: Other): Promise<void> {
    this.reading.add(snapshot);
    try {
      keepShape(snapshot, shapeOf(await fetchOther(snapshot)));
    } catch {
      // A part that can't be read is not drawn; taken in hand, it says why.
      this.failed.add(snapshot);
    } finally {
      this.reading.delete(snapshot);
    }
    this.wake();
  }

  private put(one: Other, shape: Shape): void {
    const inner = new Group();
    const before = new Mesh(shape.surface, this.surface);
    before.renderOrder = -10;
    inner.add(before);
    if (one.faces <= MOST_FACES_WIRED) {
      const lines = new LineSegments(shape.wire, this.wire);
      lines.renderOrder = -9;
      inner.add(lines, new LineSegments(shape.wire, this.breath));
    }
    const [x = 0, y = 0, z = 0] = shape.origin;
    inner.position.set(x, y, z);
    const group = new Group();
    group.userData.snapshot = one.snapshot;
    group.add(inner);
    place(group, one.standing);
    this.drawn.set(one.id, group);
    this.add(group);
    this.wake();
  }

  /** Shapes stay for the next stage: only what they are painted with goes. */
  override dispose(): void {
    this.surface.dispose();
    for (const made of [this.wire, this.breath, this.forgetDepth.material, this.forgetDepth.geometry]) made.dispose();
    for (const { surface, wire } of shapes.values()) {
      surface.dispose();
      wire.dispose();
    }
  }
}

export function place(group: Group, { move, turn }: Standing): void {
  group.position.set(...(move as [number, number, number]));
  group.quaternion.set(...(turn as [number, number, number, number]));
  group.updateMatrixWorld(true);
}

function keepShape(snapshot: number, shape: Shape): void {
  shapes.set(snapshot, shape);
  for (const old of [...shapes.keys()].slice(0, -SHAPES_KEPT)) {
    shapes.get(old)?.surface.dispose();
    shapes.get(old)?.wire.dispose();
    shapes.delete(old);
  }
}

function shapeOf({ places, triangles, edges, origin }: MeshPayload): Shape {
  const position = new BufferAttribute(places, 3);
  const [surface, wire] = [new BufferGeometry(), new BufferGeometry()];
  for (const made of [surface, wire]) made.setAttribute('position', position);
  surface.setIndex(new BufferAttribute(triangles, 1));
  wire.setIndex(new BufferAttribute(edges, 1));
  return { surface, wire, origin };
}

function boxOf({ low, high, standing }: Other): Box3 {
  const group = new Group();
  place(group, standing);
  const [a, b] = [low, high].map(([x = 0, y = 0, z = 0]) => new Vector3(x, y, z)) as [Vector3, Vector3];
  return new Box3(a, b).applyMatrix4(group.matrixWorld);
}
