/** What a refusal is about, brought into sight. */
import type { Refusal } from '../api/client';
import { stageOf } from './stageOf';

type Triple = [number, number, number];

/** The action beside a refusal that names places of the part; none where it names none, or nothing is drawn. */
export function showingOf({ elements }: Refusal): { action?: { label: string; run: () => void } } {
  const stage = stageOf.current;
  if (elements.length === 0 || !stage) return {};
  const run = (): void => {
    const of = (kind: string): number[] =>
      elements.flatMap((one) => (typeof one[kind] === 'number' ? [one[kind]] : []));
    const places = elements.flatMap((one) => (Array.isArray(one.at) ? [one.at as Triple] : []));
    const ends = elements.flatMap((one) => (Array.isArray(one.edge) ? (one.edge as number[]) : []));
    if (places.length > 0) void stage.showPlaces(places);
    else if (of('face').length > 0) void stage.showElements('faces', of('face'));
    else void stage.showElements('vertices', [...of('vertex'), ...ends]);
  };
  return { action: { label: 'Show', run } };
}
