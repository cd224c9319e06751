/** What is asked of the service and kept on the page: one memory for all screens. */
import { QueryClient } from '@tanstack/react-query';

export const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: true } } });

/** The parts of some project, or the order of what was done there, have changed: all that is told of them is asked anew. */
export const projectsChanged = (): void => void queries.invalidateQueries({ queryKey: ['projects'] });
