/** The measures of what is picked, or of the whole part. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useStore } from 'zustand';
import { client, expectData, type Schemas } from '../../api/client';
import { partStore } from '../../stores/partStore';
import { pickStore } from '../../stores/pickStore';
import { sizeStore } from './sizeStore';

export type Measures = Schemas['MeasureOut'];

export function useMeasures(): Measures | undefined {
  const part = useStore(partStore, (s) => s.part);
  const { vertices, edges, faces } = useStore(pickStore);
  const along = useStore(sizeStore, (s) => s.along);
  const pick = { vertices, edges, faces };
  const { data } = useQuery({
    queryKey: ['measure', part?.id, part?.revision, pick, along],
    queryFn: () =>
      expectData(
        client.POST('/api/parts/{part_id}/measure', {
          params: { path: { part_id: part?.id ?? 0 } },
          body: { revision: part?.revision ?? 0, pick, along: along ? [...along] : null },
        }),
      ),
    enabled: part !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });
  return data;
}
