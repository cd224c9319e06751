/** Lay faces or vertices into one plane. */
import { AXES, type Axis, faces, oneOf } from '../../picked';
import { AnywayRow, AxisRow } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'flatten',
  words: 'make flat',
  command: 'Flatten the picked faces or vertices',
  also: ['planarize', 'make planar', 'level', 'coplanar'],
  fits: (pick) => faces(pick) || pick.vertices.length > 2,
  needs: 'faces, or three vertices or more',
  tray: ['put in shape', 0],
  ofPick: { axis: null as Axis | null, anyway: false },
  step: ({ faces, vertices }, { axis, anyway }) =>
    oneOf([{ faces }, { vertices: vertices.length > 2 ? vertices : [] }], (picked) => ({
      tool: 'flatten',
      normal: axis && AXES[axis],
      anyway,
      ...picked,
    })),
  Numbers,
});

function Numbers() {
  const { axis, anyway } = WORK.use();
  return (
    <>
      <AxisRow axis={axis} none="the plane it lies nearest to" set={WORK.set} />
      <AnywayRow on={anyway} set={WORK.set} />
    </>
  );
}
