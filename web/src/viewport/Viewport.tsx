/** The picture of the part with the layer of marks above it; pointer events go to the tool. */
import { useEffect, useRef } from 'react';
import { useStore } from 'zustand';
import { DRAG_STARTS_AFTER_PX } from '../options';
import { partStore } from '../stores/partStore';
import { viewStore } from '../stores/viewStore';
import * as knife from '../tools/knife/knife';
import { fetchMesh } from './meshPayload';
import { Overlay } from './Overlay';
import { Stage } from './stage';
import { stageOf } from './stageOf';

export function Viewport() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const partId = useStore(partStore, (s) => s.part?.id);
  const snapshot = useStore(partStore, (s) => s.part?.snapshot);
  const { wire, seeThrough, night } = useStore(viewStore);
  const pressed = useRef<{ x: number; y: number } | null>(null);

  useEffect(() => {
    if (!canvas.current || partId === undefined) return;
    const stage = new Stage(canvas.current, {
      onView: (view, name) => {
        const { view: before } = viewStore.getState();
        if (JSON.stringify(before) !== JSON.stringify(view)) {
          viewStore.setState({ view, name });
          knife.point(null);
        } else if (viewStore.getState().name !== name) viewStore.setState({ name });
      },
      onRest: (saved) => localStorage.setItem(`view-${partId}`, saved),
    });
    stageOf.current = stage;
    return () => {
      stageOf.current = null;
      stage.dispose();
    };
  }, [partId]);

  useEffect(() => {
    const stage = stageOf.current;
    if (!stage || snapshot === undefined) return;
    let wanted = true;
    void fetchMesh(snapshot).then((mesh) => {
      if (!wanted || stageOf.current !== stage) return;
      const first = canvas.current?.dataset.snapshot === undefined;
      stage.setMesh(mesh);
      if (first) stage.restore(localStorage.getItem(`view-${partId}`));
      if (canvas.current) canvas.current.dataset.snapshot = String(snapshot);
    });
    return () => {
      wanted = false;
    };
  }, [snapshot, partId]);

  useEffect(() => {
    stageOf.current?.setLook({ wire, seeThrough });
  }, [wire, seeThrough]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme is read from the page, not from the value
  useEffect(() => {
    stageOf.current?.repaint();
  }, [night]);

  const place = (event: React.PointerEvent): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };

  return (
    <div className="absolute inset-0 overflow-hidden">
      <canvas
        key={partId}
        ref={canvas}
        aria-label="The part; everything it shows is also in the plan, the flow report and the steps"
        data-testid="canvas"
        className="absolute inset-0 h-full w-full touch-none"
        style={{ cursor: 'crosshair' }}
        onPointerMove={(event) => {
          if (event.buttons === 0 || (event.buttons === 1 && pressed.current)) {
            knife.suspendSettling(event.altKey);
            knife.point(place(event));
          }
        }}
        onPointerLeave={() => knife.point(null)}
        onPointerDown={(event) => {
          if (event.button === 0) pressed.current = { x: event.clientX, y: event.clientY };
        }}
        onPointerUp={(event) => {
          const from = pressed.current;
          pressed.current = null;
          if (event.button !== 0 || !from) return;
          if (Math.hypot(event.clientX - from.x, event.clientY - from.y) < DRAG_STARTS_AFTER_PX) knife.choose();
        }}
      />
      <Overlay />
    </div>
  );
}
