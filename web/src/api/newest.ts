/** At most one question in the air: while one is, only the newest of those that follow is kept. */
export function newestOnly<Question>(ask: (question: Question) => Promise<void>): (question: Question) => void {
  let busy = false;
  let waiting: { question: Question } | null = null;

  async function run(question: Question): Promise<void> {
    busy = true;
    try {
      await ask(question);
    } finally {
      busy = false;
      const next = waiting;
      waiting = null;
      if (next) void run(next.question);
    }
  }

  return (question) => {
    if (busy) waiting = { question };
    else void run(question);
  };
}
