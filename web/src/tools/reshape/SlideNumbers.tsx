/** How far what is picked slides along its edges. */
import { useStore } from 'zustand';
import { pickStore } from '../../stores/pickStore';
import { numberIn, POSITION } from '../../ui/kinds';
import { ChoiceRow, NumberRow, TickRow } from '../../ui/rows';
import { SliderField } from '../../ui/SliderField';
import { MirrorRow } from './MirrorRow';
import { setReshape } from './reshape';
import { type Axis, type ReshapeState, reshapeStore } from './reshapeStore';

const SIGNED_SHARE = {
  ...numberIn('%', -100, 100, 5, 'From -100 to 100 %'),
};

const AXES: [Axis, string][] = [
  ['x', 'along x'],
  ['y', 'along y'],
  ['z', 'along z'],
];

export function SlideNumbers() {
  const slide = useStore(reshapeStore, (s) => s.slide);
  const byVertices = useStore(pickStore, (s) => s.edges.length === 0);
  const set = (changed: Partial<ReshapeState['slide']>): void => setReshape({ slide: { ...slide, ...changed } });
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
            onSettle={(value) => set({ by: value / 100 })}
          />
          <p className="flex">
            <SliderField
              label="Slide the pick"
              testId="slide-slider"
              value={slide.by}
              least={-1}
              most={1}
              step={0.01}
              onChange={(by) => set({ by })}
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
          onSettle={(by) => set({ by })}
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
          onChange={(measure) => set({ measure, by: 0 })}
        />
      )}
      {byVertices && (
        <ChoiceRow
          name="which way"
          label="Along which edges vertices slide"
          testId="slide-towards"
          value={slide.towards}
          options={AXES}
          onChange={(towards) => set({ towards })}
        />
      )}
      <TickRow name="evenly between both sides" on={slide.even} onChange={(even) => set({ even, by: 0 })} />
      <MirrorRow />
    </>
  );
}
