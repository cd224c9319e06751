/** The tray of repairs: what each needs, and the numbers of the one that is planned. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { PlanFoot } from '../../plan/PlanFoot';
import { pickStore } from '../../stores/pickStore';
import { planStore } from '../../stores/planStore';
import { Card } from '../../ui/Card';
import { Chip } from '../../ui/Chip';
import { begin } from '../reshape/reshape';
import { reshapeStore } from '../reshape/reshapeStore';
import { WorkNumbers } from '../reshape/WorkNumbers';
import { TRAY } from '../reshape/works';

export function MendCard() {
  const picked = useStore(
    pickStore,
    useShallow(({ faces, edges, vertices }) => ({ faces, edges, vertices })),
  );
  const work = useStore(reshapeStore, (s) => s.work);
  const planned = useStore(planStore, (s) => s.planned);
  const offers = TRAY.flatMap((tray) => tray.offers);
  const begun = offers.find((offer) => offer.work === work);
  return (
    <Card title="Mend" aside={begun?.words} testId="mend" takesTyping={work !== null}>
      {TRAY.map(({ group, offers }) => (
        <section key={group} className="mb-2">
          <h3 className="mb-1 text-[13px] text-soft">{group}</h3>
          <div className="flex flex-wrap gap-1.5">
            {offers.map(({ work: name, words, fits, needs }) => (
              <span key={name} title={`For it pick ${needs}`}>
                <Chip
                  on={work === name}
                  disabled={!fits(picked) && work !== name}
                  testId={`mend-${name}`}
                  onClick={() => begin(name)}
                >
                  {words}
                </Chip>
              </span>
            ))}
          </div>
        </section>
      ))}
      {work && (
        <div className="border-rule border-t pt-1.5">
          <WorkNumbers work={work} />
          {!planned && begun && <p className="text-[13.5px] text-soft">For it pick {begun.needs}.</p>}
          {planned && <PlanFoot words="Make it so" />}
        </div>
      )}
    </Card>
  );
}
