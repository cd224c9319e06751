/** Pictures of the view as they were asked for: kept as a file, or put on the clipboard. */
import { told } from '../api/client';
import { keepAsFile } from '../page/download';
import { wasStopped } from '../stores/jobStore';
import { partStore } from '../stores/partStore';
import { type PictureState, pictureStore } from '../stores/pictureStore';
import { toast } from '../stores/toastStore';
import { viewStore } from '../stores/viewStore';
import { linesOfView, pictureOfStep, pictureOfView } from '../viewport/viewPicture';

/** The number of the last step that is made, if there is one. */
export function lastStep(): number | null {
  return partStore.getState().part?.steps.findLast(({ applied }) => applied)?.number ?? null;
}

/** The picture; what is drawn by the service is broken off by `signal`. */
export async function pictureAsAsked(
  asked: PictureState,
  step: number | null,
  scale = Number(asked.scale),
  signal?: AbortSignal,
): Promise<Blob> {
  if (asked.what === 'lines') return linesOfView(asked.hidden, asked, signal);
  if (asked.what === 'view') return pictureOfView(scale, asked);
  if (step === null) throw new Error('No step is made yet.');
  return pictureOfStep(step, scale, asked);
}

export async function keepPicture(step = lastStep()): Promise<void> {
  const asked = pictureStore.getState();
  await telling('The picture could not be taken', async () => {
    keepAsFile(await pictureAsAsked(asked, step), nameOf(asked, step));
  });
}

/** Put the picture on the clipboard; lines go as their text, too. */
export async function copyPicture(step = lastStep()): Promise<void> {
  const asked = pictureStore.getState();
  await telling('The picture could not be copied', async () => {
    // The browser lets the clipboard be written to only right after a press: it waits for the picture itself.
    const picture = pictureAsAsked(asked, step);
    const kinds = asked.what === 'lines' ? ['text/plain', 'image/svg+xml'] : ['image/png'];
    const known = kinds.filter((kind) => ClipboardItem.supports(kind));
    const item = new ClipboardItem(
      Object.fromEntries(known.map((kind) => [kind, picture.then((blob) => blob.slice(0, blob.size, kind))])),
    );
    await Promise.all([picture, navigator.clipboard.write([item])]);
    toast({ title: 'The picture is on the clipboard' });
  });
}

async function telling(title: string, work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    if (wasStopped(error)) return;
    const { words, elements } = told(error);
    toast({ title, words: error instanceof Error ? error.message : words, elements, tone: 'warning' });
  }
}

function nameOf({ what }: PictureState, step: number | null): string {
  const part = partStore.getState().part?.name ?? 'part';
  const of = what === 'step' ? `step ${step}` : viewStore.getState().name;
  const name = `${part} ${of}`.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '');
  return `${name}.${what === 'lines' ? 'svg' : 'png'}`;
}
