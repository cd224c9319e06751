/** Lay a ring on the circle that fits it, each of its numbers to be typed over. */
import { LENGTH } from '../../../../ui/kinds';
import { NumberRow, type Three, TickRow } from '../../../../ui/rows';
import { useMeasures } from '../../measures';
import { AXES, type Axis, ring, some } from '../../picked';
import { AxisRow, PlaceRow } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'round',
  words: 'make round',
  command: 'Make the picked ring round',
  also: ['circularize', 'to circle', 'make circle'],
  fits: ring,
  needs: 'a ring of edges or vertices',
  beside: 11,
  tray: ['put in shape', 2],
  lasting: { even: false },
  // The diameter, the centre and the axis as they fit, where they are null.
  ofPick: { diameter: null, centre: null, axis: null } as {
    diameter: number | null;
    centre: Three | null;
    axis: Axis | null;
  },
  step: ({ ends, vertices }, { centre, axis, diameter, even }) =>
    ends.length + vertices.length > 0
      ? {
          tool: 'round',
          edges: some(ends),
          vertices: some(vertices),
          centre,
          normal: axis && AXES[axis],
          diameter,
          even,
        }
      : null,
  Numbers,
});

function Numbers() {
  const { diameter, centre, axis, even } = WORK.use();
  const fit = useMeasures()?.ring ?? null;
  return (
    <>
      <NumberRow
        name="diameter"
        label="Diameter of the circle"
        testId="round-diameter"
        value={diameter ?? fit?.diameter ?? 0}
        kind={LENGTH}
        onSettle={(value) => WORK.set({ diameter: value })}
      />
      <PlaceRow
        name="centre"
        of="Centre of the circle"
        testId="round"
        at={centre ?? fit?.centre ?? [0, 0, 0]}
        onSettle={(next) => WORK.set({ centre: next })}
      />
      <AxisRow axis={axis} none="as it fits" set={WORK.set} />
      <TickRow
        name="at even angles"
        tip="Vertices stand at even angles round the middle, and not only at one distance from it."
        testId="tick-even"
        on={even}
        onChange={(on) => WORK.set({ even: on })}
      />
    </>
  );
}
