/** The picture of the part with the layer of marks above it; pointer events go to the tool in hand. */
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { Refusal, type Schemas, type Step } from '../api/client';
import { whenBack } from '../api/connection';
import { newestOnly } from '../api/newest';
import { forgetPress, suspendSettling, viewTurned } from '../hand/planning';
import { type PointerPlace, toolInHand, toolNamed } from '../hand/tool';
import { DRAG_STARTS_AFTER_PX, MOST_FACES_FORESHOWN } from '../options';
import { flowStore, qualityOf } from '../stores/flowStore';
import { partStore } from '../stores/partStore';
import { pickStore } from '../stores/pickStore';
import { type PlanState, planStore } from '../stores/planStore';
import { preferencesStore } from '../stores/preferencesStore';
import { drawnAt, tableStore } from '../stores/tableStore';
import { toast } from '../stores/toastStore';
import { toolStore } from '../stores/toolStore';
import { viewStore } from '../stores/viewStore';
import { fetchMesh, fetchPlanned, fetchShaded, type MeshPayload, type ShadedPayload } from './meshPayload';
import { Overlay } from './Overlay';
import { PickOverlay } from './PickOverlay';
import { Reticle, useReticle } from './Reticle';
import { SplitLine } from './SplitLine';
import { fetchPlannedSmooth, fetchSmooth, fetchSmoothPick } from './smoothForm';
import { Stage, type StageEvents } from './stage';
import { stageOf } from './stageOf';

const NOTICE = 'absolute top-16 left-4 max-w-md rounded border border-ochre bg-card p-3';

type Part = Schemas['PartOut'];

/** The planned step, as text, if it is one that moves or removes: what comes of it is shown as it will be. */
function plannedShape({ plan, planFor }: PlanState): string | null {
  return plan?.changes && (plan.moved.length > 0 || plan.chains.length === 0) ? planFor : null;
}

function showShape(mesh: MeshPayload | null): void {
  stageOf.current?.showPlanned(mesh);
  planStore.setState({ drawn: mesh !== null });
}

/** A step that leaves several parts, so that all of them are seen. */
const asOne = (step: Step): Step => ('as_parts' in step ? { ...step, as_parts: false } : step);

const askForShape = newestOnly(async ({ part, shapedBy }: { part: Part; shapedBy: string }) => {
  // Where it can't be fetched the moved edges of the plan show it.
  const mesh = await fetchPlanned(part, asOne(JSON.parse(shapedBy) as Step)).catch(() => null);
  const { part: now } = partStore.getState();
  if (now?.id === part.id && now.revision === part.revision && plannedShape(planStore.getState()) === shapedBy)
    showShape(mesh);
});

/** Of a part that is too large to be shown smooth, the faces that are picked; null if none are. */
async function pickAlone(): Promise<ShadedPayload | null> {
  const { part } = partStore.getState();
  const { faces } = pickStore.getState();
  return part && faces.length > 0 ? fetchSmoothPick(part, faces).catch(() => null) : null;
}

const askForAfter = newestOnly(
  async ({ part, smoothedBy, moves }: { part: Part; smoothedBy: string; moves: boolean }) => {
    const after = await fetchPlannedSmooth(part, asOne(JSON.parse(smoothedBy) as Step), moves).catch(() => null);
    const { part: now } = partStore.getState();
    if (now?.id !== part.id || now.revision !== part.revision || planStore.getState().planFor !== smoothedBy) return;
    stageOf.current?.showAfter(after?.drawn ?? null, after?.moves ?? null, after?.most ?? 0);
    viewStore.setState({ after: after && { most: after.most, at: after.at } });
  },
);

/** A stage on a canvas; null where the browser has no WebGL. */
function stageOn(canvas: HTMLCanvasElement, events: StageEvents): Stage | null {
  try {
    return new Stage(canvas, events);
  } catch {
    return null;
  }
}

interface Press {
  at: PointerPlace;
  /** The pointer, or finger, that pressed. */
  pointer: number;
  /** The plan before it. */
  kept: unknown;
  /** The tool takes up a drag from here. */
  taken: boolean;
  dragging: boolean;
}

/** A finger hides what is under it, and a pen trembles: they aim while they are held and mean where they are lifted. */
const aimsWhileHeld = ({ pointerType }: { pointerType: string }): boolean => pointerType !== 'mouse';

const apart = (a: PointerPlace, b: PointerPlace): boolean =>
  Math.hypot(a[0] - b[0], a[1] - b[1]) >= DRAG_STARTS_AFTER_PX;

/** A finger that rests for so long asks what can be done there. */
const LONG_PRESS_MS = 420;

interface Props {
  /** Pictures under and over the part, and what is drawn above its marks. */
  under?: ReactNode;
  over?: ReactNode;
  above?: ReactNode;
  /** What lies at a place is asked about. */
  onMenu: (at: PointerPlace) => void;
  /** A place is clicked twice. */
  onTwice: (at: PointerPlace) => void;
  /** A mesh was drawn. */
  onDrawn: () => void;
}

export function Viewport({ under, over, above, onMenu, onTwice, onDrawn }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const partId = useStore(partStore, (s) => s.part?.id);
  const snapshot = useStore(partStore, (s) => s.part?.snapshot);
  const tool = useStore(toolStore, (s) => s.tool);
  const { wire, seeThrough, night } = useStore(
    viewStore,
    useShallow(({ wire, seeThrough, night }) => ({ wire, seeThrough, night })),
  );
  const { vertices, edges, faces, shown } = useStore(
    pickStore,
    useShallow(({ vertices, edges, faces, shown }) => ({ vertices, edges, faces, shown })),
  );
  const thread = useStore(preferencesStore, (s) => s.thread);
  const wireStrength = useStore(preferencesStore, (s) => s.wire);
  const flow = useStore(flowStore, (s) => (s.on ? s.flow : null));
  const quality = useStore(flowStore, (s) => qualityOf(s, snapshot));
  const shapedBy = useStore(planStore, plannedShape);
  const { Paint } = toolNamed(tool);
  const pressed = useRef<Press | null>(null);
  /** Where the right button went down. */
  const menuAt = useRef<PointerPlace | null>(null);
  const held = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** Why the part can't be drawn just now, and how often that was tried again by hand. */
  const [trouble, setTrouble] = useState<string | null>(null);
  const [attempt, setAttempt] = useState(0);
  const { reticle, focused, keys: byKeys, putAway } = useReticle(onMenu);
  /** The browser can't draw at all. */
  const [blind, setBlind] = useState(false);

  useEffect(() => {
    if (!canvas.current || partId === undefined) return;
    const stage = stageOn(canvas.current, {
      onView: (view, name) => {
        const { view: before } = viewStore.getState();
        if (JSON.stringify(before) !== JSON.stringify(view)) {
          viewStore.setState({ view, name });
          viewTurned();
        } else if (viewStore.getState().name !== name) viewStore.setState({ name });
      },
      onRest: (saved) => localStorage.setItem(`view-${partId}`, saved),
    });
    setBlind(stage === null);
    stageOf.current = stage;
    if (!stage) return;
    return () => {
      stageOf.current = null;
      stage.dispose();
    };
  }, [partId]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another attempt reads anew
  useEffect(() => {
    const stage = stageOf.current;
    if (!stage || snapshot === undefined) return;
    let wanted = true;
    const read = async (): Promise<void> => {
      const mesh = await fetchMesh(snapshot);
      if (!wanted || stageOf.current !== stage) return;
      setTrouble(null);
      if (partId !== undefined) stage.stand(drawnAt(partId, tableStore.getState()));
      const first = canvas.current?.dataset.snapshot === undefined;
      stage.setMesh(mesh);
      const { shown, ...picked } = pickStore.getState();
      stage.reveal(shown);
      stage.pick(picked);
      const { on, flow } = flowStore.getState();
      if (on && flow?.snapshot === snapshot) stage.paintFlow(flow.places, qualityOf(flowStore.getState(), snapshot));
      if (first) stage.restore(localStorage.getItem(`view-${partId}`));
      if (canvas.current) canvas.current.dataset.snapshot = String(snapshot);
      setDrawnNow(snapshot);
      // After the frame that draws it.
      requestAnimationFrame(() => setTimeout(onDrawn));
    };
    const tryToRead = (): void => {
      if (!wanted) return;
      read().catch((error) => {
        if (!wanted) return;
        setTrouble(error instanceof Refusal ? error.words : String(error));
        if (error instanceof Refusal && error.code === 'unreachable') whenBack('mesh', tryToRead);
      });
    };
    tryToRead();
    return () => {
      wanted = false;
    };
  }, [snapshot, partId, attempt]);

  const table = useStore(tableStore);
  const placement = useStore(partStore, (s) => s.part?.placement);
  // biome-ignore lint/correctness/useExhaustiveDependencies: where the part itself stands is told by the part
  useEffect(() => {
    const stage = stageOf.current;
    if (!stage || partId === undefined) return;
    stage.stand(drawnAt(partId, table));
    const beside = table.others ? table.parts.filter((one) => one.id !== partId && !one.hidden) : [];
    stage.setOthers(beside.map((one) => ({ ...one, standing: drawnAt(one.id, table) })));
  }, [table, partId, placement]);

  const look = useStore(viewStore, (s) => s.look);
  /** The mesh that is drawn: what is shaded belongs to it. */
  const [drawnNow, setDrawnNow] = useState<number | null>(null);
  useEffect(() => {
    const stage = stageOf.current;
    if (!stage || drawnNow === null || drawnNow !== snapshot) return;
    if (look !== 'smooth') viewStore.setState({ smoothSize: null });
    if (look === 'faces') {
      stage.showShaded(null);
      return;
    }
    let wanted = true;
    const show = (seen: ShadedPayload): void => {
      if (!wanted || stageOf.current !== stage) return;
      stage.showShaded(seen, look === 'smooth');
      const quads = seen.triangles.length / 6;
      const bytes = seen.places.byteLength + seen.normals.byteLength + seen.triangles.byteLength;
      viewStore.setState({ smoothSize: look === 'smooth' ? { quads, bytes, rounds: seen.rounds ?? 1 } : null });
    };
    (look === 'smooth' ? fetchSmooth(drawnNow) : fetchShaded(drawnNow)).then(show).catch(async (error) => {
      if (!wanted) return;
      const alone = look === 'smooth' && error instanceof Refusal ? await pickAlone() : null;
      if (alone) {
        show(alone);
        toast({ title: 'Only the pick is shown smooth', words: error.words });
        return;
      }
      viewStore.setState({ look: 'faces' });
      toast({ title: 'It stays in facets', words: error instanceof Refusal ? error.words : String(error) });
    });
    return () => {
      wanted = false;
    };
  }, [look, drawnNow, snapshot]);

  const smoothedBy = useStore(planStore, ({ plan, planFor }) => (plan?.changes ? planFor : null));
  const moves = useStore(viewStore, (s) => s.moves);
  const smoothThere = useStore(viewStore, (s) => s.smoothSize !== null);
  useEffect(() => {
    const { part } = partStore.getState();
    if (part && part.snapshot === snapshot && look === 'smooth' && smoothThere && smoothedBy !== null)
      askForAfter({ part, smoothedBy, moves });
    else {
      stageOf.current?.showAfter(null);
      viewStore.setState({ after: null });
    }
  }, [look, smoothThere, smoothedBy, moves, snapshot]);

  const split = useStore(viewStore, (s) => s.split);
  useEffect(() => {
    stageOf.current?.splitAt(split);
  }, [split]);

  useEffect(() => {
    stageOf.current?.setLook({ wire, seeThrough });
  }, [wire, seeThrough]);

  useEffect(() => {
    stageOf.current?.pick({ vertices, edges, faces });
  }, [vertices, edges, faces]);

  useEffect(() => {
    stageOf.current?.reveal(shown);
  }, [shown]);

  useEffect(() => {
    if (flow?.snapshot === snapshot) stageOf.current?.paintFlow(flow?.places ?? null, quality);
    else stageOf.current?.paintFlow(null);
  }, [flow, quality, snapshot]);

  useEffect(() => {
    const { part } = partStore.getState();
    // On the smooth form the plan is seen smooth.
    if (look === 'smooth') showShape(null);
    else if (part && part.snapshot === snapshot && shapedBy !== null && part.faces <= MOST_FACES_FORESHOWN)
      askForShape({ part, shapedBy });
    // What was made stays as it was planned until its mesh is there.
    else if (canvas.current?.dataset.snapshot === String(snapshot)) showShape(null);
  }, [shapedBy, snapshot, look]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: theme and thread are read from the page, not from the values
  useEffect(() => {
    stageOf.current?.repaint();
  }, [night, thread, wireStrength]);

  const forget = (): void => {
    clearTimeout(held.current);
    if (pressed.current?.taken) forgetPress(pressed.current.kept);
    pressed.current = null;
  };
  /** A finger that rests opens what a right button opens; what its press began is not meant. */
  const waitForLongPress = (at: PointerPlace): void => {
    clearTimeout(held.current);
    held.current = setTimeout(() => {
      forget();
      onMenu(at);
    }, LONG_PRESS_MS);
  };
  const place = (event: React.PointerEvent): PointerPlace => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const keys = (event: React.PointerEvent) => ({ shift: event.shiftKey, control: event.ctrlKey || event.metaKey });

  return (
    <div className="absolute inset-0 overflow-hidden">
      {under}
      <canvas
        key={partId}
        id="part"
        ref={canvas}
        aria-label="The part. Arrow keys point, Space clicks, Control with arrow keys turns; all it shows is also in the plan, the flow report and the steps"
        data-testid="canvas"
        className={`absolute inset-0 h-full w-full touch-none outline-offset-[-3px] ${focused ? 'outline-2 outline-tide' : 'outline-none'}`}
        style={{ cursor: tool === 'pick' ? 'default' : 'crosshair' }}
        {...byKeys}
        onPointerMove={(event) => {
          putAway();
          suspendSettling(event.altKey);
          const at = place(event);
          const press = pressed.current;
          if (press && apart(at, press.at)) clearTimeout(held.current);
          if (event.buttons === 0) toolInHand().point(at);
          if (event.buttons !== 1 || !press || press.pointer !== event.pointerId) return;
          if (!press.dragging && apart(at, press.at)) press.dragging = true;
          if (press.dragging && press.taken) toolInHand().drag(at, keys(event));
          else if (aimsWhileHeld(event)) toolInHand().point(at);
        }}
        onPointerLeave={(event) => event.pointerType !== 'touch' && toolInHand().point(null)}
        onPointerDown={(event) => {
          const at = place(event);
          menuAt.current = event.button === 2 && !event.shiftKey ? at : null;
          if (!event.isPrimary) {
            // A second finger moves the view: the first placed nothing.
            forget();
            toolInHand().point(null);
            return;
          }
          if (event.button !== 0 || stageOf.current?.holdsSpace()) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          if (event.pointerType === 'touch') {
            // No press of a mouse is made up from it when the finger goes: that would close what it has opened.
            event.preventDefault();
            waitForLongPress(at);
          }
          if (aimsWhileHeld(event)) toolInHand().point(at);
          const kept = toolInHand().keep();
          pressed.current = {
            at,
            kept,
            pointer: event.pointerId,
            taken: toolInHand().press(at, keys(event)),
            dragging: false,
          };
        }}
        onDoubleClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          onTwice([event.clientX - box.left, event.clientY - box.top]);
        }}
        onPointerCancel={forget}
        onPointerUp={(event) => {
          const at = place(event);
          clearTimeout(held.current);
          if (event.button === 2 && menuAt.current && !apart(at, menuAt.current)) onMenu(at);
          const press = pressed.current;
          if (event.button !== 0 || !press || press.pointer !== event.pointerId) return;
          pressed.current = null;
          if (press.dragging && press.taken) toolInHand().release(at, keys(event));
          else if (!press.dragging || aimsWhileHeld(event)) toolInHand().click(at, keys(event));
        }}
      />
      {over}
      <Overlay />
      <PickOverlay />
      <SplitLine />
      {above}
      {reticle && <Reticle at={reticle} />}
      {blind && (
        <p role="alert" data-testid="blind" className={NOTICE}>
          This browser draws no 3D pictures (WebGL is off or missing), so the part can't be shown or pointed at. Its
          steps can be undone, and it can be exported as a file.
        </p>
      )}
      {trouble && (
        <p role="alert" data-testid="no-mesh" className={NOTICE}>
          The part could not be drawn. {trouble}{' '}
          <button type="button" className="underline" onClick={() => setAttempt(attempt + 1)}>
            Try again
          </button>
        </p>
      )}
      {Paint && <Paint key={`${tool} ${partId}`} />}
    </div>
  );
}
