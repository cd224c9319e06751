import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { commandOf, keysOf } from '../hand/commands';
import { sentenceOf, take, usable } from '../hand/take';
import { FoldingCard } from '../plan/FoldingCard';
import { pickStore } from '../stores/pickStore';
import { Chip } from '../ui/Chip';
import { countOf } from '../ui/numbers';

const GROUPS: [string, string[]][] = [
  ['from an edge or two vertices', ['pick-loop', 'pick-ring', 'pick-path']],
  ['from the pick', ['pick-grow', 'pick-shrink', 'pick-invert', 'pick-connected', 'pick-patch', 'pick-border']],
  ['by flow', ['pick-all-ngons', 'pick-all-triangles', 'pick-all-poles', 'pick-all-stray']],
];
const SHORT: Record<string, string> = {
  'pick-loop': 'loop',
  'pick-ring': 'ring',
  'pick-path': 'shortest path',
  'pick-grow': 'grow',
  'pick-shrink': 'shrink',
  'pick-invert': 'invert',
  'pick-connected': 'connected',
  'pick-patch': 'patch',
  'pick-border': 'boundary',
  'pick-all-ngons': 'n-gons',
  'pick-all-triangles': 'triangles',
  'pick-all-poles': 'poles',
  'pick-all-stray': 'stray vertices',
};

/** What is picked, and what can be made of it. */
export function PickCard() {
  const { vertices, edges, faces, shown } = useStore(
    pickStore,
    useShallow(({ vertices, edges, faces, shown }) => ({ vertices, edges, faces, shown })),
  );
  const count = [
    faces.length && countOf(faces.length, 'face'),
    edges.length && countOf(edges.length, 'edge'),
    vertices.length && countOf(vertices.length, 'vertex', 'vertices'),
  ].filter(Boolean);
  return (
    <FoldingCard title="Pick" aside={count.join(' · ') || 'nothing yet'} testId="pick">
      {GROUPS.map(([words, ids]) => (
        <fieldset key={words} className="mb-2">
          <legend className="mb-1 text-[13px] text-soft">{words}</legend>
          <div className="flex flex-wrap gap-1.5">
            {ids.map((id) => (
              <CommandChip key={id} id={id} words={SHORT[id] ?? id} />
            ))}
          </div>
        </fieldset>
      ))}
      <div className="mt-3 flex gap-1.5">
        <CommandChip id="hide" words={shown ? 'show what is hidden' : 'hide unpicked'} />
        <CommandChip id="pick-none" words="pick nothing" />
      </div>
    </FoldingCard>
  );
}

function CommandChip({ id, words }: { id: string; words: string }) {
  const command = commandOf(id);
  if (!command) return null;
  return (
    <Chip faint={!usable(command)} tip={sentenceOf(command)} keys={keysOf(id)} onClick={() => take(command)}>
      {words}
    </Chip>
  );
}
