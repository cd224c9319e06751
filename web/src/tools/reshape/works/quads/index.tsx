/** Turn faces into quads; of one face each way, seen while it is pointed at, and corners joined by hand. */

import { useStore } from 'zustand';
import { LIMITS } from '../../../../api/limits';
import { glance } from '../../../../hand/planning';
import type { PointerPlace } from '../../../../hand/tool';
import { pickStore } from '../../../../stores/pickStore';
import { extraOf, planStore } from '../../../../stores/planStore';
import { viewStore } from '../../../../stores/viewStore';
import { Chip } from '../../../../ui/Chip';
import { countOf } from '../../../../ui/numbers';
import { askPick } from '../../askPick';
import { always, some } from '../../picked';
import { LeanRow, Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'quads',
  words: 'turn into quads',
  command: 'Turn faces into quads',
  also: ['quadrangulate', 'retopology', 'remesh', 'all quads'],
  fits: always,
  needs: 'faces, or nothing for all',
  tray: ['quads and triangles', 0],
  lasting: { lean: LIMITS.QuadsParams.within.first as number },
  ofPick: {
    // Which way to cut a face is taken, which one is only looked at, and corners of it that are joined by hand.
    way: 0,
    seen: null as number | null,
    corners: [] as [number, number][],
    // Clicks join corners of the face; the first of a pair.
    joining: false,
    corner: null as number | null,
  },
  step: ({ faces }, { lean, way, seen, corners }) => ({
    tool: 'quads',
    faces: some(faces),
    within: lean,
    corners,
    way: seen ?? way,
  }),
  Numbers,
  click: joins,
});

/** A click joins corners while that is asked for. */
function joins(at: PointerPlace): boolean {
  const { joining } = WORK.now();
  if (joining) void joinCorner(at);
  return joining;
}

/** Show one of the ways to cut a face while it is pointed at; the chosen one for null. */
function seeWay(seen: number | null): void {
  if (WORK.now().seen === seen) return;
  WORK.note({ seen });
  glance();
}

/** The corner under the pointer is one end of an edge that is drawn by hand across the picked face. */
async function joinCorner(at: PointerPlace): Promise<void> {
  const { view } = viewStore.getState();
  const found = view && (await askPick({ by: 'pointer', kind: 'vertices', view, pointer: at, radius: 0 }));
  const [vertex] = found?.elements ?? [];
  const { corner, corners, joining } = WORK.now();
  if (vertex === undefined || !joining || vertex === corner) return;
  if (corner === null) WORK.set({ corner: vertex });
  else WORK.set({ corner: null, corners: [...corners, [corner, vertex]] });
}

function Numbers() {
  const { lean, way, corners, joining, corner } = WORK.use();
  const one = useStore(pickStore, (s) => s.faces.length === 1);
  const ways = useStore(planStore, (s) => extraOf(s.plan, 'quads')?.ways) ?? [];
  return (
    <>
      <LeanRow lean={lean} range={LIMITS.QuadsParams.within} set={WORK.set} />
      {one && ways.length > 0 && <Said>Ways to cut it, each with its smallest scaled Jacobian.</Said>}
      {one && (
        <div className="my-1 flex flex-wrap items-center gap-1.5" data-testid="quad-ways">
          {ways.map(({ quads, jacobian }, k) => (
            <Chip
              // biome-ignore lint/suspicious/noArrayIndexKey: ways are told apart by their order
              key={k}
              on={way === k}
              testId={`way-${k}`}
              onLook={(at) => seeWay(at ? k : null)}
              onClick={() => WORK.set({ way: k, seen: null })}
            >
              {`${quads} quads · ${jacobian.toFixed(2)}`}
            </Chip>
          ))}
        </div>
      )}
      {one && (
        <div className="my-1 flex flex-wrap items-center gap-1.5">
          <Chip on={joining} testId="join-corners" onClick={() => WORK.set({ joining: !joining, corner: null })}>
            join corners by hand
          </Chip>
          {corners.length > 0 && (
            <Chip testId="forget-corners" onClick={() => WORK.set({ corners: [], corner: null })}>
              {`forget ${countOf(corners.length, 'edge')}`}
            </Chip>
          )}
        </div>
      )}
      {joining && (
        <Said>{corner === null ? 'Click a corner of the face.' : 'Click the corner that it is joined to.'}</Said>
      )}
    </>
  );
}
