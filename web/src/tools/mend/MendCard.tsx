/** The tray of repairs: what each needs, and the numbers of the one that is planned. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { PlanFoot } from '../../plan/PlanFoot';
import { pickStore } from '../../stores/pickStore';
import { planStore } from '../../stores/planStore';
import { Card } from '../../ui/Card';
import { Chip } from '../../ui/Chip';
import { Chosen } from '../reshape/Chosen';
import { begin, beginBeforePicking } from '../reshape/reshape';
import { reshapeStore } from '../reshape/reshapeStore';
import { TRAY, workNamed } from '../reshape/works';

export function MendCard() {
  const picked = useStore(
    pickStore,
    useShallow(({ faces, edges, vertices }) => ({ faces, edges, vertices })),
  );
  const work = workNamed(useStore(reshapeStore, (s) => s.work));
  const planned = useStore(planStore, (s) => s.planned);
  return (
    <Card title="Mend" testId="mend" takesTyping={work !== null}>
      <Chosen work={work} testId="mend">
        {TRAY.map(({ group, works }) => (
          <section key={group} className="mb-2">
            <h3 className="mb-1 text-[13px] text-soft">{group}</h3>
            <div className="flex flex-wrap gap-1.5">
              {works.map((one) => (
                <Chip
                  key={one.name}
                  on={work?.name === one.name}
                  faint={!one.fits(picked)}
                  testId={`mend-${one.name}`}
                  tip={one.fits(picked) ? `${one.command}.` : `${one.command}: pick ${one.needs} first.`}
                  onClick={() => (one.fits(picked) ? begin(one.name) : beginBeforePicking(one))}
                >
                  {one.words}
                </Chip>
              ))}
            </div>
          </section>
        ))}
      </Chosen>
      {work && (
        <div className="border-rule border-t pt-1.5">
          <work.Numbers />
          {!planned && <p className="text-[13.5px] text-soft">For it pick {work.needs}.</p>}
          {planned && <PlanFoot />}
        </div>
      )}
    </Card>
  );
}
