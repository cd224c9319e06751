/** The lists of distances that the project keeps by name. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { client, expectData, expectDone, type Schemas } from '../../api/client';
import { tell } from '../../projects/projectQueries';
import { partStore } from '../../stores/partStore';
import { NameSheet } from '../../ui/NameSheet';
import { gaugeStep, setGauge } from './gauge';
import { gaugeStore } from './gaugeStore';

type Kept = Schemas['GaugeListOut'];

export function KeptLists() {
  const project = useStore(partStore, (s) => s.part?.project ?? null);
  const some = useStore(gaugeStore, (s) => s.widths.length > 0);
  const [naming, setNaming] = useState(false);
  const queries = useQueryClient();
  const queryKey = ['gauge-lists', project];
  const at = { params: { path: { project_id: project ?? 0 } } };
  const { data: kept = [] } = useQuery({
    queryKey,
    queryFn: () => expectData(client.GET('/api/projects/{project_id}/gauge-lists', at)),
    enabled: project !== null,
  });
  const change = (done: Promise<unknown>): void => {
    void done.catch(tell).finally(() => queries.invalidateQueries({ queryKey }));
  };
  const keep = (name: string): void => {
    const params = gaugeStep();
    if (params)
      change(expectData(client.POST('/api/projects/{project_id}/gauge-lists', { ...at, body: { name, params } })));
  };
  const drop = (list: Kept): void =>
    change(expectDone(client.DELETE('/api/gauge-lists/{list_id}', { params: { path: { list_id: list.id } } })));

  return (
    <div data-testid="kept-lists" className="mt-1 mb-2 flex flex-wrap items-center gap-1.5 text-[13.5px]">
      {kept.map((list) => (
        <span key={list.id} className="inline-flex items-center gap-1 rounded border border-rule px-2">
          <button type="button" className="hover:underline" onClick={() => take(list)}>
            {list.name}
          </button>
          <button type="button" aria-label={`Forget the list ${list.name}`} onClick={() => drop(list)}>
            <X size={13} />
          </button>
        </span>
      ))}
      {some && (
        <button type="button" className="stitched text-soft hover:text-ink" onClick={() => setNaming(true)}>
          Keep this list
        </button>
      )}
      <NameSheet
        title="Keep the list"
        open={naming}
        initial=""
        answer="Keep it"
        onClose={() => setNaming(false)}
        onName={keep}
      />
    </div>
  );
}

/** Put a kept list in the place of the one that is planned. */
function take({ params }: Kept): void {
  setGauge({
    widths: params.widths,
    diameters: params.widths.map(() => null),
    along: params.direction ? 'edge' : (params.axis ?? 'y'),
    direction: params.direction ?? null,
    start: params.start,
    measure: params.measure,
    tilt: params.tilt ?? { about: 'x', degrees: 0 },
  });
}
