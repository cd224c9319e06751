/** The WebGL side of the viewport: one part, a camera that follows the hand, drawn only when something changed. */

import CameraControls from 'camera-controls';
import {
  Box3,
  type Camera,
  Group,
  MathUtils,
  Matrix4,
  OrthographicCamera,
  PerspectiveCamera,
  Quaternion,
  Raycaster,
  Scene,
  Sphere,
  Spherical,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderer,
} from 'three';
import type { Schemas, View } from '../api/client';
import { FIELD_OF_VIEW_DEG, FRAME_MARGIN, TURNING_FINGERS_PX } from '../options';
import type { Standing } from '../space/standing';
import type { ViewName } from '../stores/viewStore';
import { FlowPaint } from './flowPaint';
import type { MeshPayload, ShadedPayload } from './meshPayload';
import { MovePaint } from './movePaint';
import { type Other, Others, place } from './others';
import { type Look, lights, PartObject, type PickedElements } from './partObject';
import { fineness } from './patterns';
import { Scrap } from './scrap';
import { ShadedObject } from './shadedObject';
import { STANDARD_VIEWS } from './standardViews';
import { placeOf } from './surface';
import { thickened } from './thickLines';

// Only what it needs: the whole library would keep all of it in the bundle.
CameraControls.install({
  THREE: { Vector2, Vector3, Vector4, Quaternion, Matrix4, Spherical, Box3, Sphere, Raycaster },
});

type Triple = [number, number, number];
const UP: Triple = [0, 1, 0];
const AT_HOME = new Matrix4();

export interface StageEvents {
  /** The view in the service's terms, on every change. */
  onView: (view: View, name: ViewName) => void;
  /** The camera has come to rest. */
  onRest: (saved: string) => void;
}

/** What of the view comes into a picture of it. */
interface Shot {
  /** Pixels of the picture for one of the screen. */
  scale: number;
  wire: boolean;
  others: boolean;
  /** States of the part that are drawn in its place, a picture each. */
  states?: MeshPayload[] | undefined;
}

export class Stage {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly eye = new PerspectiveCamera(FIELD_OF_VIEW_DEG, 1, 0.1, 1000);
  private readonly flatEye = new OrthographicCamera();
  private readonly controls: CameraControls;
  private readonly lamps = lights();
  private readonly watcher: ResizeObserver;
  /** What is in hand, where it stands. */
  private readonly hand = new Group();
  private readonly others: Others;
  private part: PartObject | null = null;
  private mesh: MeshPayload | null = null;
  /** The part as it would be. */
  private planned: PartObject | null = null;
  /** The part in hand shaded, or smooth, in place of its facets. */
  private shaded: ShadedObject | null = null;
  private smooth = false;
  /** The smooth form as a plan would leave it, on the right of a line across the picture; where it moves, on demand. */
  private after: ShadedObject | null = null;
  private moves: MovePaint | null = null;
  private split = 0.5;
  private scrap: Scrap | null = null;
  private flow: FlowPaint | null = null;
  private sphere = new Sphere(new Vector3(), 1);
  private scope = new Sphere(new Vector3(), 1);
  private name: ViewName = 'perspective';
  private look: Look = { wire: true, seeThrough: false };
  private spaceHeld = false;
  /** What drags now turns the part. */
  private turning = false;
  /** Fingers on the picture, each where it came down. */
  private readonly fingers = new Map<number, [number, number]>();
  private frame = 0;
  private last = 0;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly events: StageEvents,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    // Waiting for what the compiler has to say of our own shaders would hold every first picture up.
    this.renderer.debug.checkShaderErrors = import.meta.env.DEV;
    this.renderer.localClippingEnabled = true;
    fineness.value = Math.min(window.devicePixelRatio, 2);
    this.renderer.setPixelRatio(fineness.value);
    this.others = new Others(() => this.wake());
    this.scene.add(this.eye, this.lamps, this.hand, this.others);
    this.controls = new CameraControls(this.eye, canvas);
    this.controls.smoothTime = matchMedia('(prefers-reduced-motion: reduce)').matches ? 0 : 0.06;
    this.controls.draggingSmoothTime = 0.02;
    this.controls.dollyToCursor = true;
    this.controls.mouseButtons.left = CameraControls.ACTION.NONE;
    this.controls.mouseButtons.middle = CameraControls.ACTION.TRUCK;
    this.controls.mouseButtons.wheel = CameraControls.ACTION.DOLLY;
    // One finger is the tool's.
    this.controls.touches.one = CameraControls.ACTION.NONE;
    canvas.addEventListener('pointerdown', this.chooseMove, { capture: true });
    window.addEventListener('pointerup', this.forgetFinger);
    window.addEventListener('pointercancel', this.forgetFinger);
    canvas.addEventListener('contextmenu', (event) => event.preventDefault());
    // A lost context comes back only if its loss was taken note of; all is drawn anew then.
    canvas.addEventListener('webglcontextlost', this.keepContext);
    canvas.addEventListener('webglcontextrestored', this.wake);
    // A drag is only followed once the camera was updated after the one before: so at its start, too.
    this.controls.addEventListener('controlstart', this.wake);
    this.controls.addEventListener('control', this.leaveFixed);
    this.controls.addEventListener('transitionstart', this.wake);
    this.watcher = new ResizeObserver(() => this.resize());
    this.watcher.observe(canvas.parentElement ?? canvas);
    this.resize();
  }

  /** Draw another mesh; the camera stays where it is. */
  setMesh(mesh: MeshPayload): void {
    if (this.part) {
      this.hand.remove(this.part);
      this.part.dispose();
    }
    this.showPlanned(null);
    this.showShaded(null);
    this.showAfter(null);
    this.showScrap([], null);
    this.paintFlow(null);
    this.mesh = mesh;
    this.part = new PartObject(mesh);
    this.part.show(this.look);
    this.part.fitTo(this.canvas.clientWidth, this.canvas.clientHeight);
    this.hand.add(this.part);
    this.measure();
    this.wake();
  }

  /** Let the part in hand stand somewhere on the table. */
  stand(standing: Standing): void {
    place(this.hand, standing);
    this.measure();
    this.wake();
  }

  /** Draw the other parts as they stand. */
  setOthers(others: Other[]): void {
    this.others.show(others);
    this.measure();
    this.wake();
  }

  /** How far the part in hand reaches, and how far all there is to see. */
  private measure(): void {
    this.hand.updateMatrixWorld(true);
    const own = this.part ? new Box3().setFromObject(this.part) : new Box3(new Vector3(), new Vector3());
    this.sphere = own.getBoundingSphere(new Sphere());
    this.scope = own.union(this.others.box()).getBoundingSphere(new Sphere());
  }

  /** Draw the part shaded or smooth; null for its facets. */
  showShaded(seen: ShadedPayload | null, smooth = false): void {
    if (this.shaded) {
      this.hand.remove(this.shaded);
      this.shaded.dispose();
      this.shaded = null;
    }
    if (seen) {
      this.shaded = new ShadedObject(seen);
      this.shaded.show(this.look);
      this.shaded.visible = this.planned === null;
      this.hand.add(this.shaded);
    }
    this.smooth = smooth;
    this.part?.standBack(seen !== null, smooth);
    this.canvas.dataset.look = seen ? 'shaded' : 'faces';
    this.wake();
  }

  /** Draw the smooth form as it would be, to the right of the split line; null for only as it is. */
  showAfter(seen: ShadedPayload | null, moves: Float32Array | null = null, most = 0): void {
    for (const one of [this.after, this.moves]) {
      if (one) this.hand.remove(one);
      one?.dispose();
    }
    this.after = seen && new ShadedObject(seen);
    this.moves = seen && moves && most > 0 ? new MovePaint(seen, moves, most) : null;
    this.after?.show(this.look);
    for (const one of [this.after, this.moves]) if (one) this.hand.add(one);
    this.canvas.dataset.after = seen ? 'shown' : 'none';
    this.wake();
  }

  /** Put the line between the smooth form before and after at a share of the picture's width. */
  splitAt(share: number): void {
    this.split = share;
    this.wake();
  }

  private render(camera: Camera): void {
    const { renderer, shaded, after, moves } = this;
    if (!shaded || !after) {
      renderer.render(this.scene, camera);
      return;
    }
    const { x: width, y: height } = renderer.getSize(new Vector2());
    const line = Math.round(width * this.split);
    renderer.setScissorTest(true);
    for (const [before, from, size] of [
      [true, 0, line],
      [false, line, width - line],
    ] as const) {
      shaded.visible = before;
      after.visible = !before;
      if (moves) moves.visible = !before;
      renderer.setScissor(from, 0, size, height);
      renderer.render(this.scene, camera);
    }
    renderer.setScissorTest(false);
    shaded.visible = true;
  }

  /** Draw the part as it would be, over a faint wire of it as it is; null for as it is. */
  showPlanned(mesh: MeshPayload | null): void {
    if (this.planned) {
      this.hand.remove(this.planned);
      this.planned.dispose();
      this.planned = null;
    }
    if (mesh) {
      this.planned = new PartObject(mesh, this.mesh);
      this.planned.show(this.look);
      this.planned.fitTo(this.canvas.clientWidth, this.canvas.clientHeight);
      this.hand.add(this.planned);
    }
    this.part?.recede(mesh !== null);
    if (this.shaded) {
      this.shaded.visible = mesh === null;
      if (mesh === null) this.part?.standBack(true, this.smooth);
    }
    if (this.flow) this.flow.visible = mesh === null;
    this.canvas.dataset.planned = mesh ? 'shown' : 'none';
    this.wake();
  }

  /**
   * What is on the screen as a picture, so many times as fine; or two states of the part, without what is planned.
   * Throws words where so large a picture can't be drawn.
   */
  shoot({ scale, wire, others, states }: Shot): HTMLCanvasElement[] {
    const { renderer } = this;
    const { x: width, y: height } = renderer.getSize(new Vector2());
    const usual = renderer.getPixelRatio();
    const look = { ...this.look, wire };
    const camera = this.name === 'perspective' ? this.eye : this.flatEye;
    const drawn = [this.part, this.planned, this.shaded, this.after];
    const pair = states?.map((mesh, k) => new PartObject(mesh, k > 0 ? (states[k - 1] ?? null) : null)) ?? [];
    const hidden = pair.length > 0 ? this.hand.children.filter(({ visible }) => visible) : [];
    const beside = this.others.visible;
    const take = (): HTMLCanvasElement => {
      const thin = scale > 1 ? thickened(this.scene, width, height) : () => {};
      // States stand in the place of all that is planned: no form before and after a line beside them.
      if (pair.length > 0) renderer.render(this.scene, camera);
      else this.render(camera);
      thin();
      return copyOf(this.canvas);
    };
    try {
      renderer.setPixelRatio(scale);
      fineness.value = scale;
      const { drawingBufferWidth, drawingBufferHeight } = renderer.getContext();
      if (drawingBufferWidth < Math.floor(width * scale) || drawingBufferHeight < Math.floor(height * scale))
        throw new Error('So large a picture can’t be drawn here: take a smaller one.');
      this.others.visible = others && beside;
      for (const one of drawn) one?.show(look);
      for (const one of hidden) one.visible = false;
      if (pair.length === 0) return [take()];
      return pair.map((one) => {
        one.show(look);
        one.fitTo(width, height);
        one.fade(this.scaleOf(this.view()));
        this.hand.add(one);
        const picture = take();
        this.hand.remove(one);
        return picture;
      });
    } finally {
      for (const one of pair) one.dispose();
      for (const one of hidden) one.visible = true;
      for (const one of drawn) one?.show(this.look);
      this.others.visible = beside;
      renderer.setPixelRatio(usual);
      fineness.value = usual;
      this.wake();
    }
  }

  setLook(look: Look): void {
    this.look = look;
    this.part?.show(look);
    this.planned?.show(look);
    this.shaded?.show(look);
    this.after?.show(look);
    this.wake();
  }

  /** Take the colours of a theme that was just put on. */
  repaint(): void {
    this.part?.paint();
    this.planned?.paint();
    this.shaded?.paint();
    this.after?.paint();
    this.moves?.paint();
    this.scrap?.paint();
    this.flow?.paint();
    this.others.paint();
    this.wake();
  }

  /** The place of a vertex; null if the mesh that is drawn has none of that number. */
  placeOf(vertex: number): Triple | null {
    const { mesh } = this;
    if (!mesh || 3 * vertex >= mesh.places.length) return null;
    const local = placeOf(mesh, vertex);
    return [local[0] + mesh.origin[0], local[1] + mesh.origin[1], local[2] + mesh.origin[2]];
  }

  /** The ends of some edges, as vertices. */
  endsOf(edges: number[]): [number, number][] {
    const { mesh } = this;
    return mesh ? edges.map((edge) => [mesh.edges[2 * edge] ?? 0, mesh.edges[2 * edge + 1] ?? 0]) : [];
  }

  /** Tint some faces. */
  tint(faces: number[]): void {
    this.part?.tint(faces);
    this.wake();
  }

  /** Fade and cross-hatch what lies on the side that some planes look to, of all faces or of some; with no plane, nothing. */
  showScrap(planes: Schemas['PlaneShown'][], faces: number[] | null): void {
    if (this.scrap) {
      this.part?.remove(this.scrap);
      this.scrap.dispose();
      this.scrap = null;
    }
    if (this.mesh && this.part && planes.length > 0) {
      this.scrap = new Scrap(this.mesh, planes, faces, this.hand.matrixWorld);
      this.part.add(this.scrap);
    }
    this.part?.clip(this.scrap?.keeps ?? []);
    this.wake();
  }

  /** Paint the places of the flow report on the part, or how well its faces are formed; null for none. */
  paintFlow(flow: Schemas['FlowOut'] | null, quality: Schemas['QualityOut'] | null = null): void {
    if (this.flow) {
      this.part?.remove(this.flow);
      this.flow.dispose();
      this.flow = null;
    }
    if (flow && this.mesh && this.part) {
      this.flow = new FlowPaint(this.mesh, flow, quality);
      this.flow.fitTo(this.canvas.clientWidth, this.canvas.clientHeight);
      this.flow.visible = this.planned === null;
      this.part.add(this.flow);
    }
    this.wake();
  }

  /** Bring some elements into sight. */
  async showElements(kind: 'vertices' | 'edges' | 'faces', elements: number[]): Promise<void> {
    const { mesh } = this;
    if (!mesh || elements.length === 0) return;
    const wanted = new Set(elements);
    const vertices =
      kind === 'vertices'
        ? elements
        : kind === 'edges'
          ? this.endsOf(elements).flat()
          : [...mesh.triangleFaces].flatMap((face, t) =>
              wanted.has(face) ? [...mesh.triangles.subarray(3 * t, 3 * t + 3)] : [],
            );
    await this.showPlaces(vertices.map((vertex) => this.placeOf(vertex)).filter((place) => place !== null));
  }

  /** Mark what is picked. */
  pick(picked: PickedElements): void {
    this.part?.pick(picked);
    this.wake();
  }

  /** Draw only some faces; null for all. */
  reveal(shown: number[] | null): void {
    this.part?.reveal(shown);
    this.wake();
  }

  holdsSpace(): boolean {
    return this.spaceHeld;
  }

  /** Let the left button orbit while the space bar is held. */
  holdSpace(held: boolean): void {
    this.spaceHeld = held;
  }

  /** Turn the part by degrees, as a drag does; a fixed view is left for perspective. */
  orbit(across: number, down: number): void {
    this.name = 'perspective';
    void this.controls.rotate((-across * Math.PI) / 180, (-down * Math.PI) / 180, true);
    this.wake();
  }

  /** Pixels for a length of 1 where the camera looks. */
  private scaleOf(view: View): number {
    const height = view.height ?? 2 * this.controls.distance * Math.tan((FIELD_OF_VIEW_DEG * Math.PI) / 360);
    return this.canvas.clientHeight / height;
  }

  /** Move the part by pixels. */
  pan(across: number, down: number): void {
    const scale = 1 / this.scaleOf(this.view());
    void this.controls.truck(-across * scale, -down * scale, true);
    this.wake();
  }

  /** Come so many times nearer. */
  zoom(factor: number): void {
    void this.controls.dollyTo(this.controls.distance / factor, true);
    this.wake();
  }

  /** Take one of the named views, framing the part; perspective keeps the direction it had. */
  async takeView(name: ViewName, animate = true): Promise<void> {
    this.name = name;
    if (name !== 'perspective') {
      const { forward, up } = STANDARD_VIEWS[name];
      const azimuth = forward[1] === 0 ? Math.atan2(-forward[0], -forward[2]) : forward[1] < 0 ? 0 : Math.PI;
      const polar = forward[1] === 0 ? Math.PI / 2 : forward[1] < 0 ? 0 : Math.PI;
      this.flatEye.up.set(...up);
      void this.controls.rotateTo(nearestTurn(azimuth, this.controls.azimuthAngle), polar, false);
    }
    await this.fit(animate);
  }

  /** Restore what `onRest` gave, or frame the part from the corner that most parts look best from. */
  restore(saved: string | null): void {
    try {
      const { name, at } = JSON.parse(saved ?? '') as { name: ViewName; at: string };
      this.controls.fromJSON(at, false);
      this.name = name;
      if (name !== 'perspective') this.flatEye.up.set(...STANDARD_VIEWS[name].up);
    } catch {
      this.name = 'perspective';
      void this.controls.rotateTo(0.42, 1.14, false);
      void this.fit(false);
    }
    this.wake();
  }

  /** Bring the whole part into sight, or all parts. */
  async fit(animate = true, all = false): Promise<void> {
    const around = (all ? this.scope : this.sphere).clone();
    around.radius *= FRAME_MARGIN;
    const moved = this.controls.fitToSphere(around, animate);
    this.wake();
    await moved;
  }

  /** Bring some places into sight. */
  async showPlaces(places: Triple[]): Promise<void> {
    const standing = places.map((p) => this.hand.localToWorld(new Vector3(...p)));
    const around = new Box3().setFromPoints(standing).getBoundingSphere(new Sphere());
    around.radius = Math.max(around.radius * 1.6, this.sphere.radius * 0.22);
    const moved = this.controls.fitToSphere(around, true);
    this.wake();
    await moved;
  }

  /** Let the keys point at the part. */
  focus(): void {
    this.canvas.focus();
  }

  dispose(): void {
    cancelAnimationFrame(this.frame);
    this.watcher.disconnect();
    this.canvas.removeEventListener('pointerdown', this.chooseMove, { capture: true });
    window.removeEventListener('pointerup', this.forgetFinger);
    window.removeEventListener('pointercancel', this.forgetFinger);
    this.controls.dispose();
    this.part?.dispose();
    this.planned?.dispose();
    this.shaded?.dispose();
    this.after?.dispose();
    this.moves?.dispose();
    this.scrap?.dispose();
    this.flow?.dispose();
    this.others.dispose();
    this.canvas.removeEventListener('webglcontextlost', this.keepContext);
    this.canvas.removeEventListener('webglcontextrestored', this.wake);
    this.renderer.dispose();
    // Browsers give out few contexts: this one is given back at once.
    this.renderer.forceContextLoss();
  }

  /** A fixed view that is turned, and not only clicked, is left for perspective, seen from the same side. */
  private readonly leaveFixed = (): void => {
    if (this.turning) this.name = 'perspective';
    this.wake();
  };

  private readonly chooseMove = (event: PointerEvent): void => {
    const { ACTION } = CameraControls;
    if (event.pointerType === 'touch') {
      this.fingers.set(event.pointerId, [event.clientX, event.clientY]);
      this.chooseForFingers();
      return;
    }
    const turns = event.button === 2 && !event.shiftKey;
    this.controls.mouseButtons.right = turns ? ACTION.ROTATE : ACTION.TRUCK;
    this.controls.mouseButtons.left = this.spaceHeld ? ACTION.ROTATE : ACTION.NONE;
    this.turning = turns || (this.spaceHeld && event.button === 0);
  };

  /** Two fingers held close together turn the part; further apart they move it, and near or away as they part. */
  private chooseForFingers(): void {
    const [one, other] = [...this.fingers.values()];
    if (!one || !other || this.fingers.size !== 2) return;
    const turns = Math.hypot(one[0] - other[0], one[1] - other[1]) < TURNING_FINGERS_PX;
    const { ACTION } = CameraControls;
    this.controls.touches.two = turns ? ACTION.TOUCH_ROTATE : ACTION.TOUCH_DOLLY_TRUCK;
    this.turning = turns;
  }

  private readonly forgetFinger = (event: PointerEvent): void => {
    this.fingers.delete(event.pointerId);
  };

  private readonly keepContext = (event: Event): void => event.preventDefault();

  private readonly wake = (): void => {
    this.canvas.dataset.state = 'moving';
    if (!this.frame) {
      this.last = performance.now();
      this.frame = requestAnimationFrame(this.draw);
    }
  };

  private readonly draw = (now: number): void => {
    this.frame = 0;
    const moving = this.controls.update(Math.max(now - this.last, 0) / 1000);
    this.last = now;
    const view = this.view();
    for (const one of [this.part, this.planned]) one?.fade(this.scaleOf(view));
    const camera = this.name === 'perspective' ? this.eye : this.flatEye;
    this.lamps.quaternion.copy(camera.quaternion);
    this.render(camera);
    // The part in hand comes first; what is out of sight costs nothing.
    if (!moving && this.part) this.others.readWhatIsSeen(camera);
    this.canvas.dataset.state = moving ? 'moving' : 'rest';
    this.canvas.dataset.others = this.others.state;
    this.canvas.dataset.view = JSON.stringify(view);
    this.events.onView(view, this.name);
    if (moving) this.frame = requestAnimationFrame(this.draw);
    else if (this.part) this.events.onRest(JSON.stringify({ name: this.name, at: this.controls.toJSON() }));
  };

  /** The view in the service's terms and in the coordinates of the part in hand; readies the camera that draws it. */
  private view(): View {
    const seen = this.viewOfTable();
    const back = this.hand.matrixWorld.clone().invert();
    const local = (place: readonly number[], direction: boolean): Triple => {
      const vector = new Vector3(...(place as Triple));
      return (direction ? vector.transformDirection(back) : vector.applyMatrix4(back)).toArray() as Triple;
    };
    if (back.equals(AT_HOME)) return seen;
    return { ...seen, eye: local(seen.eye, false), target: local(seen.target, false), up: local(seen.up ?? UP, true) };
  }

  private viewOfTable(): View {
    const target = this.controls.getTarget(new Vector3());
    const away = this.eye.position.distanceTo(target);
    const { radius, center } = this.scope;
    const reach = away + 4 * radius + center.distanceTo(target);
    const size: [number, number] = [this.canvas.clientWidth, this.canvas.clientHeight];
    this.eye.near = Math.max(away - 4 * radius, reach * 1e-4);
    this.eye.far = reach * 2;
    this.eye.updateProjectionMatrix();
    if (this.name === 'perspective') {
      const up = new Vector3(0, 1, 0).applyQuaternion(this.eye.quaternion);
      return {
        eye: this.eye.position.toArray(),
        target: target.toArray(),
        up: up.toArray(),
        projection: 'perspective',
        fov: FIELD_OF_VIEW_DEG,
        size,
      };
    }
    const { forward, up } = STANDARD_VIEWS[this.name];
    const height = 2 * away * Math.tan(MathUtils.degToRad(FIELD_OF_VIEW_DEG / 2));
    this.flatEye.position.copy(target).addScaledVector(new Vector3(...forward), -reach);
    this.flatEye.lookAt(target);
    const half = (height / 2) * (size[0] / size[1]);
    Object.assign(this.flatEye, {
      left: -half,
      right: half,
      top: height / 2,
      bottom: -height / 2,
      near: 0,
      far: 2 * reach,
    });
    this.flatEye.updateProjectionMatrix();
    return {
      eye: this.flatEye.position.toArray(),
      target: target.toArray(),
      up: [...up],
      projection: 'parallel',
      height,
      size,
    };
  }

  private resize(): void {
    const box = this.canvas.parentElement ?? this.canvas;
    const { clientWidth: width, clientHeight: height } = box;
    if (!width || !height) return;
    this.renderer.setSize(width, height, false);
    for (const one of [this.part, this.planned]) one?.fitTo(width, height);
    this.flow?.fitTo(width, height);
    this.eye.aspect = width / height;
    this.eye.updateProjectionMatrix();
    this.wake();
  }
}

/** What a canvas shows just now: it is lost with the next frame. */
function copyOf(canvas: HTMLCanvasElement): HTMLCanvasElement {
  const copy = document.createElement('canvas');
  copy.width = canvas.width;
  copy.height = canvas.height;
  copy.getContext('2d')?.drawImage(canvas, 0, 0);
  return copy;
}

/** The turn equal to `goal` that is nearest to `from`, so that a view never spins round more than half. */
function nearestTurn(goal: number, from: number): number {
  return goal + 2 * Math.PI * Math.round((from - goal) / (2 * Math.PI));
}
