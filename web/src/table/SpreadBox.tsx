/** Ticked parts drawn apart from their middle, to look at and to pick; set for good, or let fall to see how they lie. */
import { useStore } from 'zustand';
import { useOffered } from '../hand/offered';
import { tell } from '../projects/projectQueries';
import { tableStore } from '../stores/tableStore';
import { Chip } from '../ui/Chip';
import { SlideRow } from '../ui/rows';
import { SliderField } from '../ui/SliderField';
import { endFall, play, showFrame } from './falling';
import { letFall, useTableChanges } from './tableQueries';

const MOST_SPREAD = 2;

export function SpreadBox({ project }: { project: number }) {
  const ticked = useStore(tableStore, (s) => s.ticked);
  const spread = useStore(tableStore, (s) => s.spread);
  const falling = useStore(tableStore, (s) => s.falling);
  const changes = useTableChanges(project);
  const many = ticked.length > 1 && !falling;
  const fall = () => void letFall(project, ticked).then(play).catch(tell);
  useOffered('spread', many ? () => tableStore.setState({ spread: { parts: ticked, by: MOST_SPREAD / 4 } }) : null);
  useOffered('fall', many ? fall : null);
  if (!many && !falling) return null;
  const set = async (): Promise<void> => {
    if (!spread) return;
    const done = await changes.spread(spread.parts, spread.by);
    if (done) tableStore.setState({ spread: null });
  };
  if (falling)
    return (
      <div className="mt-2 border-rule border-t border-dashed pt-1.5" data-testid="falling" data-frame={falling.frame}>
        <div className="flex items-center gap-3 text-[13.5px]">
          <span className="text-soft">fall</span>
          <SliderField
            label="Which moment of the fall is shown"
            value={falling.frame}
            most={falling.seen.seconds.length - 1}
            step={1}
            testId="fall-frame"
            onChange={showFrame}
          />
          <span className="tabular-nums">{(falling.seen.seconds[falling.frame] ?? 0).toFixed(1)} s</span>
        </div>
        <div className="mt-1 flex gap-1.5">
          <Chip onClick={play}>again</Chip>
          <Chip testId="put-back" onClick={endFall}>
            put back
          </Chip>
        </div>
      </div>
    );
  return (
    <div className="mt-2 border-rule border-t border-dashed pt-1.5 text-[13.5px]">
      <SlideRow
        name="spread"
        label="How far the ticked parts are drawn apart"
        testId="spread"
        value={(spread?.by ?? 0) / MOST_SPREAD}
        onChange={(share) =>
          tableStore.setState({ spread: share > 0 ? { parts: ticked, by: share * MOST_SPREAD } : null })
        }
      />
      <div className="mt-1 flex gap-1.5">
        <Chip testId="set-spread" disabled={!spread} onClick={() => void set()}>
          set
        </Chip>
        <Chip testId="let-fall" onClick={fall}>
          let fall
        </Chip>
      </div>
    </div>
  );
}
