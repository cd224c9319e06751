/** The answer to a question, unless it is broken off before: then nothing waits for it any more. */
export const unlessBrokenOff = <Answer>(asked: Promise<Answer>, { signal }: AbortController): Promise<Answer> =>
  Promise.race([
    asked,
    new Promise<never>((_, breakOff) => signal.addEventListener('abort', () => breakOff(signal.reason))),
  ]);

/**
 * At most one question in the air: while one is, only the newest of those that follow is kept. One that was not answered
 * for so long is given up: the next is asked, and `isNewest` says no to what is answered to the old one then.
 */
export function newestOnly<Question>(
  ask: (question: Question, isNewest: () => boolean) => Promise<void>,
  giveUpAfterMs = Number.POSITIVE_INFINITY,
): ((question: Question) => void) & { forget: () => void } {
  let busy = false;
  let asked = 0;
  let waiting: { question: Question } | null = null;

  async function run(question: Question): Promise<void> {
    asked += 1;
    const own = asked;
    busy = true;
    const goOn = (): void => {
      if (own !== asked) return;
      busy = false;
      const next = waiting;
      waiting = null;
      if (next) void run(next.question);
    };
    const timer = Number.isFinite(giveUpAfterMs) ? setTimeout(goOn, giveUpAfterMs) : undefined;
    try {
      await ask(question, () => own === asked);
    } finally {
      clearTimeout(timer);
      goOn();
    }
  }

  return Object.assign(
    (question: Question) => {
      if (busy) waiting = { question };
      else void run(question);
    },
    {
      /** What waits to be asked is not asked. */
      forget: () => {
        waiting = null;
      },
    },
  );
}
