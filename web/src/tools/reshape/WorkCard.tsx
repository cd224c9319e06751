/** What can be made of the pick next: chips, and the numbers of the one that is planned. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { PlanFoot } from '../../plan/PlanFoot';
import { pickStore } from '../../stores/pickStore';
import { planStore } from '../../stores/planStore';
import { toolStore } from '../../stores/toolStore';
import { Card } from '../../ui/Card';
import { Chip } from '../../ui/Chip';
import { Chosen } from './Chosen';
import { begin } from './reshape';
import { reshapeStore } from './reshapeStore';
import { offersFor, workNamed } from './works';

const begun = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

export function WorkCard() {
  const { faces, edges, vertices } = useStore(
    pickStore,
    useShallow(({ faces, edges, vertices }) => ({ faces, edges, vertices })),
  );
  const work = workNamed(useStore(reshapeStore, (s) => s.work));
  const still = useStore(reshapeStore, () => work?.still?.(work.now()) ?? false);
  const planned = useStore(planStore, (s) => s.planned);
  const offers = offersFor({ faces, edges, vertices });
  // What waits for its pick waits with Pick in hand alone.
  const waits = useStore(toolStore, (s) => s.tool === 'pick') && work !== null;
  if (offers.length === 0 && !waits) return null;
  return (
    <Card title={work ? begun(work.words) : 'Work on it'} testId="work" takesTyping={work !== null}>
      <Chosen work={work} testId="work">
        <div className="mb-2 flex flex-wrap gap-1.5">
          {offers.map(({ name, words, command }) => (
            <Chip
              key={name}
              on={work?.name === name}
              testId={`work-${name}`}
              tip={`${command}.`}
              onClick={() => begin(name)}
            >
              {words}
            </Chip>
          ))}
        </div>
      </Chosen>
      {work && <work.Numbers />}
      {work && !planned && <p className="text-[13.5px] text-soft">For it pick {work.needs}.</p>}
      {work && planned && <PlanFoot unfinished={still} />}
    </Card>
  );
}
