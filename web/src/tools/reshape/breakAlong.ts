/** Plan to break the part along lines or planes that another tool had planned. */
import { begin, layAside } from './reshape';
import { type ShardsBy, WORK } from './works/shards';

export function breakAlong(by: ShardsBy): void {
  layAside();
  WORK.note({ by });
  begin(WORK.name, true);
}
