/** What a lesson sees of the workshop just now. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { client, expectData, type Step } from '../api/client';
import { useDrawings } from '../drawing/drawingQueries';
import { drawingStore } from '../drawing/drawingStore';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { toolStore } from '../stores/toolStore';
import { viewStore } from '../stores/viewStore';
import type { Seen } from './lesson';

/** What is seen; null while it is being found out. */
export function useSeen(): Seen | null {
  const tool = useStore(toolStore, (s) => s.tool);
  const { plan, planFor, planned } = useStore(
    planStore,
    useShallow(({ plan, planFor, planned }) => ({ plan, planFor, planned })),
  );
  const { view, look } = useStore(
    viewStore,
    useShallow(({ name, look }) => ({ view: name, look })),
  );
  const drawing = useStore(drawingStore, (s) => s.on);
  const { drawing: shown } = useDrawings();
  const made = useMade();
  return useMemo(
    () =>
      made && {
        tool,
        planned: planned && planFor !== null ? (JSON.parse(planFor) as Step) : null,
        plan: planned ? plan : null,
        made,
        view,
        look,
        drawing,
        heights: shown?.marks.heights?.length ?? 0,
      },
    [tool, plan, planFor, planned, made, view, look, drawing, shown],
  );
}

/** The steps of the part in hand as they were made, without those undone; null until they are known. */
function useMade(): Step[] | null {
  const part = useStore(partStore, (s) => s.part);
  const numbers = part?.steps.filter(({ applied }) => applied).map(({ number }) => number) ?? [];
  const { data, isPlaceholderData } = useQuery({
    queryKey: ['made', part?.id, part?.snapshot, numbers.length],
    queryFn: async () => {
      const steps = await Promise.all(
        numbers.map(async (number) => {
          const path = { part_id: part?.id ?? 0, number };
          const { params } = await expectData(client.GET('/api/parts/{part_id}/steps/{number}', { params: { path } }));
          return params as Step | null;
        }),
      );
      return steps.filter((step) => step !== null);
    },
    enabled: part !== null,
    placeholderData: keepPreviousData,
  });
  return part && data && !isPlaceholderData ? data : null;
}
