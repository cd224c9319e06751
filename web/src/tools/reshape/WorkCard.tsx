/** What can be made of the pick next: chips, and the numbers of the one that is planned. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { PlanFoot } from '../../plan/PlanFoot';
import { pickStore } from '../../stores/pickStore';
import { planStore } from '../../stores/planStore';
import { Card } from '../../ui/Card';
import { Chip } from '../../ui/Chip';
import { begin } from './reshape';
import { reshapeStore } from './reshapeStore';
import { WorkNumbers } from './WorkNumbers';
import { offersFor } from './works';

export function WorkCard() {
  const { faces, edges, vertices } = useStore(
    pickStore,
    useShallow(({ faces, edges, vertices }) => ({ faces, edges, vertices })),
  );
  const work = useStore(reshapeStore, (s) => s.work);
  const still = useStore(reshapeStore, (s) => s.work === 'slide' && s.slide.by === 0);
  const planned = useStore(planStore, (s) => s.planned);
  const offers = offersFor({ faces, edges, vertices });
  if (offers.length === 0) return null;
  return (
    <Card title="Work on it" testId="work" takesTyping={work !== null}>
      <div className="mb-2 flex flex-wrap gap-1.5">
        {offers.map(({ work: name, words }) => (
          <Chip key={name} on={work === name} testId={`work-${name}`} onClick={() => begin(name)}>
            {words}
          </Chip>
        ))}
      </div>
      {work && <WorkNumbers work={work} />}
      {work && planned && <PlanFoot words="Make it so" unfinished={still} />}
    </Card>
  );
}
