/** What a refusal is about, brought into sight. */
import type { Refusal } from '../api/client';
import { stageOf } from './stageOf';

type Triple = [number, number, number];

/** How to show what a refusal names; null if it names nothing, or nothing is drawn. */
export function showerOf(elements: Refusal['elements']): (() => void) | null {
  const stage = stageOf.current;
  if (elements.length === 0 || !stage) return null;
  const of = (kind: string): number[] => elements.flatMap((one) => (typeof one[kind] === 'number' ? [one[kind]] : []));
  const places = elements.flatMap((one) => (Array.isArray(one.at) ? [one.at as Triple] : []));
  const ends = elements.flatMap((one) => (Array.isArray(one.edge) ? (one.edge as number[]) : []));
  return () => {
    if (places.length > 0) void stage.showPlaces(places);
    else if (of('face').length > 0) void stage.showElements('faces', of('face'));
    else void stage.showElements('vertices', [...of('vertex'), ...ends]);
  };
}
