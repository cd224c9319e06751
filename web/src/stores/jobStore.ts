/** Work of the service that takes long: followed once it has taken a while, and broken off when that is asked for. */
import { createStore } from 'zustand/vanilla';
import { client, expectData, expectDone, Refusal } from '../api/client';
import { ASK_FOR_PROGRESS_EVERY_MS, SHOW_PROGRESS_AFTER_MS } from '../options';

interface JobState {
  /** What takes long now, as a person would say it; null if nothing does. */
  title: string | null;
  /** What of it is done at the moment, and the share that is done. */
  words: string;
  share: number | null;
  /** It was asked to stop. */
  stopping: boolean;
  stop: () => void;
}

const NOTHING: JobState = { title: null, words: '', share: null, stopping: false, stop: () => {} };

export const jobStore = createStore<JobState>(() => NOTHING);

/** Have work done under a name that the service can be asked about; its progress is shown once it takes long. */
export async function followed<Done>(title: string, work: (job: string) => Promise<Done>): Promise<Done> {
  const job = crypto.randomUUID();
  const path = { params: { path: { name: job } } };
  let timer = setTimeout(show, SHOW_PROGRESS_AFTER_MS);
  const stop = (): void => {
    jobStore.setState({ stopping: true });
    // If it is done already there is nothing to stop.
    void expectDone(client.DELETE('/api/jobs/{name}', path)).catch(() => {});
  };
  function show(): void {
    jobStore.setState({ ...NOTHING, title, stop });
    void ask();
  }
  async function ask(): Promise<void> {
    try {
      const { words, share } = await expectData(client.GET('/api/jobs/{name}', path));
      if (jobStore.getState().stop === stop) jobStore.setState({ words, share });
    } catch {
      // The work's own answer says what there is to say.
    }
    if (jobStore.getState().stop === stop) timer = setTimeout(() => void ask(), ASK_FOR_PROGRESS_EVERY_MS);
  }
  try {
    return await work(job);
  } finally {
    clearTimeout(timer);
    if (jobStore.getState().stop === stop) jobStore.setState(NOTHING);
  }
}

export const wasStopped = (error: unknown): boolean => error instanceof Refusal && error.code === 'stopped';
