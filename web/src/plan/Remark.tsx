import type { Schemas } from '../api/client';
import { countOf } from '../ui/numbers';
import { stageOf } from '../viewport/stageOf';

/** Notes that say the same of several places, as one. */
export function together(notes: Schemas['NoteOut'][]): Schemas['NoteOut'][] {
  const found = new Map<string, Schemas['NoteOut']>();
  for (const note of notes) {
    const same = found.get(note.words);
    found.set(note.words, { ...note, places: [...(same?.places ?? []), ...note.places] });
  }
  return [...found.values()];
}

/** A note, or why a plan can't be made, with the way to its places. */
export function Remark({ note, stops = false }: { note: Schemas['NoteOut']; stops?: boolean }) {
  const show = () => void stageOf.current?.showPlaces(note.places as [number, number, number][]);
  return (
    <p
      role={stops ? 'alert' : 'note'}
      data-testid={stops ? 'refusal' : 'note'}
      data-code={note.code}
      className={`mt-2 flex items-start justify-between gap-2 rounded border px-2.5 py-1.5 text-[13.5px] ${stops ? 'border-thread' : 'border-rule'}`}
    >
      <span>
        {stops ? `Can't be made: ${note.words}.` : note.words}
        {note.places.length > 1 && ` (${countOf(note.places.length, 'place')})`}
      </span>
      {note.places.length > 0 && (
        <button type="button" className="underline" onClick={show}>
          Show
        </button>
      )}
    </p>
  );
}
