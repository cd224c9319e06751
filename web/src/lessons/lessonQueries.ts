/** The projects that lessons are taken on, as the service keeps them. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { client, expectData, expectDone } from '../api/client';
import { go } from '../page/route';
import { tell } from '../projects/projectQueries';
import type { Lesson } from './lesson';

const BEGUN = ['lessons'] as const;

export function useBegunLessons() {
  return useQuery({ queryKey: BEGUN, queryFn: () => expectData(client.GET('/api/lessons')) });
}

const at = (lesson: Lesson['name']) => ({ params: { path: { lesson } } });

export function useLessons() {
  const queries = useQueryClient();
  const onSettled = () => queries.invalidateQueries({ queryKey: BEGUN });
  const letGo = useMutation({
    mutationFn: ({ name }: Lesson) => expectDone(client.DELETE('/api/lessons/{lesson}', at(name))),
    onSettled,
    onError: tell,
  });
  /** Take a lesson up where it was left, or begin it; pressed twice it is one. */
  const take = useMutation({
    mutationFn: ({ name }: Lesson) => expectData(client.PUT('/api/lessons/{lesson}', at(name))),
    onSettled,
    onError: tell,
    onSuccess: (project, { part }) => {
      const first = project.parts.find(({ name }) => name === part) ?? project.parts[0];
      go({ screen: 'workshop', project: project.id, part: first?.id ?? null });
    },
  });
  return { take, letGo };
}
