/** Slide what is picked along its edges. */
import { useStore } from 'zustand';
import { pickStore } from '../../../../stores/pickStore';
import { planStore } from '../../../../stores/planStore';
import { numberIn, POSITION } from '../../../../ui/kinds';
import { ChoiceRow, NumberRow, TickRow } from '../../../../ui/rows';
import { SliderField } from '../../../../ui/SliderField';
import { MirrorRow } from '../../MirrorRow';
import { AXES, type Axis, edgesOrVertices, oneOf } from '../../picked';
import { workOf } from '../../work';
import { SlideRails } from './SlideRails';

const SIGNED_SHARE = numberIn('%', { least: -100, most: 100 }, 5);

const TOWARDS: [Axis, string][] = [
  ['x', 'along x'],
  ['y', 'along y'],
  ['z', 'along z'],
];

export const WORK = workOf({
  name: 'slide',
  words: 'slide',
  command: 'Slide the picked edges or vertices',
  also: ['edge slide', 'vertex slide'],
  fits: edgesOrVertices,
  needs: 'edges or vertices',
  beside: 1,
  lasting: { measure: 'share' as 'share' | 'distance', even: false, towards: 'x' as Axis },
  ofPick: { by: 0 },
  step: ({ ends, vertices }, { by, measure, even, towards }) =>
    oneOf([{ edges: ends }, { vertices }], (picked) => ({
      tool: 'slide',
      by,
      measure: even ? 'share' : measure,
      even,
      towards: AXES[towards],
      mirror: planStore.getState().mirror,
      ...picked,
    })),
  still: ({ by }) => by === 0,
  Numbers,
  Marks: SlideRails,
});

function Numbers() {
  const slide = WORK.use();
  const byVertices = useStore(pickStore, (s) => s.edges.length === 0);
  const byShare = slide.measure === 'share' || slide.even;
  return (
    <>
      {byShare ? (
        <>
          <NumberRow
            name="by"
            label="Share of its edge that each vertex slides by: to the left, or to the right below 0"
            testId="slide-by"
            value={100 * slide.by}
            kind={SIGNED_SHARE}
            onSettle={(value) => WORK.set({ by: value / 100 })}
          />
          <p className="flex">
            <SliderField
              label="Slide the pick"
              testId="slide-slider"
              value={slide.by}
              least={-1}
              most={1}
              step={0.01}
              onChange={(by) => WORK.set({ by })}
            />
          </p>
        </>
      ) : (
        <NumberRow
          name="by"
          label="Length that each vertex slides by: to the left, or to the right below 0"
          testId="slide-by"
          value={slide.by}
          kind={POSITION}
          onSettle={(by) => WORK.set({ by })}
        />
      )}
      {!slide.even && (
        <ChoiceRow
          name="measured"
          label="How the slide is measured"
          testId="slide-measure"
          value={slide.measure}
          options={[
            ['share', 'by share of each edge'],
            ['distance', 'by length'],
          ]}
          onChange={(measure) => WORK.set({ measure, by: 0 })}
        />
      )}
      {byVertices && (
        <ChoiceRow
          name="which way"
          label="Along which edges vertices slide"
          testId="slide-towards"
          value={slide.towards}
          options={TOWARDS}
          onChange={(towards) => WORK.set({ towards })}
        />
      )}
      <TickRow
        name="evenly between both sides"
        tip="Vertices stop halfway between the two edges they could slide along."
        on={slide.even}
        onChange={(even) => WORK.set({ even, by: 0 })}
      />
      <MirrorRow />
    </>
  );
}
