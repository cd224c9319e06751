/** Turns the view to a place. */
import { stageOf } from '../viewport/stageOf';

interface Props {
  at: [number, number, number];
  of: string;
  words?: string;
}

export const Show = ({ at, of, words = 'Show' }: Props) => (
  <button
    type="button"
    aria-label={words === 'Show' ? `Show ${of}` : `${words}: show ${of}`}
    className={`underline ${words === 'Show' ? 'ml-2' : ''}`}
    onClick={() => void stageOf.current?.showPlaces([at])}
  >
    {words}
  </button>
);
