/** A picture of the view: of what, how fine, what comes into it; seen before it is kept or copied. */
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { told } from '../api/client';
import { partStore } from '../stores/partStore';
import { PICTURES, type PictureState, pictureStore, SCALES } from '../stores/pictureStore';
import { openSheet } from '../stores/sheetStore';
import { Button } from '../ui/Button';
import { ChoiceRow, TickRow } from '../ui/rows';
import { Sheet } from '../ui/Sheet';
import { copyPicture, keepPicture, lastStep, pictureAsAsked } from './takePicture';

const TICKS = {
  wire: 'wire',
  marks: 'marks and what is planned',
  others: 'other parts',
  ground: 'on paper',
} as const;

export function PictureSheet() {
  const asked = useStore(pictureStore);
  const steps = useStore(partStore, (s) => s.part?.steps);
  const [step, setStep] = useState(lastStep);
  const made = steps?.filter(({ applied }) => applied) ?? [];
  const lines = asked.what === 'lines';
  const none = asked.what === 'step' && step === null;
  const ticks = Object.entries(TICKS).filter(([name]) => name !== 'marks' || asked.what !== 'step');
  return (
    <Sheet title="Picture of the view" open onClose={() => openSheet(null)} wide>
      <div className="flex gap-5">
        <Preview asked={asked} step={step} />
        <div className="w-64 shrink-0">
          <ChoiceRow
            name="of"
            label="What the picture is of"
            testId="picture-of"
            value={asked.what}
            options={PICTURES}
            onChange={(what) => pictureStore.setState({ what })}
          />
          {asked.what === 'step' && step !== null && (
            <ChoiceRow
              name="step"
              label="Which step"
              testId="picture-step"
              value={String(step)}
              options={made.map(({ number, title }) => [String(number), `${number}. ${title}`] as const)}
              onChange={(next) => setStep(Number(next))}
            />
          )}
          {!lines && (
            <ChoiceRow
              name="as fine as the screen, times"
              label="How many times as fine as the screen"
              testId="picture-scale"
              value={asked.scale}
              options={SCALES.map((scale) => [scale, `${scale} ×`] as const)}
              onChange={(scale) => pictureStore.setState({ scale })}
            />
          )}
          {ticks.map(([name, words]) => (
            <TickRow
              key={name}
              name={lines && name === 'wire' ? 'every edge, not only the form' : words}
              testId={`picture-${name}`}
              on={asked[name as keyof typeof TICKS]}
              onChange={(on) => pictureStore.setState({ [name]: on })}
            />
          ))}
          {lines && (
            <TickRow
              name="hidden lines, dashed"
              testId="picture-hidden"
              on={asked.hidden}
              onChange={(hidden) => pictureStore.setState({ hidden })}
            />
          )}
          <div className="mt-4 flex gap-2">
            <Button look="primary" disabled={none} onClick={() => void keepPicture(step)}>
              Keep as a file
            </Button>
            <Button disabled={none} onClick={() => void copyPicture(step)}>
              Copy
            </Button>
          </div>
        </div>
      </div>
    </Sheet>
  );
}

/** What the picture will be, as fine as the screen. */
function Preview({ asked, step }: { asked: PictureState; step: number | null }) {
  const [seen, setSeen] = useState<{ address: string } | { trouble: string } | null>(null);
  const revision = useStore(partStore, (s) => s.part?.revision);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another revision is another picture
  useEffect(() => {
    // Asked for otherwise, or not any more, it is broken off: nobody could press Stop under the sheet.
    const wanted = new AbortController();
    let address = '';
    pictureAsAsked(asked, step, 1, wanted.signal)
      .then((picture) => {
        if (wanted.signal.aborted) return;
        address = URL.createObjectURL(picture);
        setSeen({ address });
      })
      .catch((error) => {
        if (!wanted.signal.aborted) setSeen({ trouble: error instanceof Error ? error.message : told(error).words });
      });
    return () => {
      wanted.abort();
      URL.revokeObjectURL(address);
    };
  }, [asked, step, revision]);
  return (
    <div className="checked flex min-h-60 min-w-0 flex-1 items-center justify-center border border-rule">
      {seen && 'address' in seen && (
        <img src={seen.address} alt="What will be kept" data-testid="picture-seen" className="max-h-80 max-w-full" />
      )}
      {seen && 'trouble' in seen && <p className="p-4 text-soft">{seen.trouble}</p>}
    </div>
  );
}
