/** About: which version this is, and what others made that ships with it, under which licence. */
import { useQuery } from '@tanstack/react-query';
import { client, expectData } from '../api/client';
import { ThemeButton } from '../page/ThemeButton';
import { Wordmark } from '../page/Wordmark';

/** One thing that others made; `text` is the licence itself where it has to go along. */
interface Made {
  name: string;
  version: string;
  licence: string;
  in: string;
  text: string;
}

export function AboutScreen() {
  const status = useQuery({ queryKey: ['status'], queryFn: () => expectData(client.GET('/api/status')) });
  // Long, and rarely read: fetched when it is.
  const made = useQuery({
    queryKey: ['licences'],
    queryFn: async (): Promise<Made[]> => (await import('./licences.json')).default,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <div className="h-full overflow-auto" data-testid="about">
      <header className="flex items-center justify-between border-rule border-b bg-card px-6 py-2.5">
        <Wordmark />
        <ThemeButton />
      </header>
      <main className="mx-auto max-w-[860px] px-6 py-7">
        <h1 className="font-display font-semibold text-2xl">About</h1>
        <p className="mt-1 text-soft">
          {status.data ? (
            <span data-testid="version">Wertome {status.data.version}</span>
          ) : status.error ? (
            'The service does not answer: which version it is can’t be told.'
          ) : (
            '…'
          )}
        </p>
        <h2 className="mt-8 font-display font-semibold text-lg">Made by others</h2>
        <p className="mb-3 text-soft">What it is built with, and the licence each comes under.</p>
        <ul data-testid="licences">
          {made.data?.map((one) => (
            <li key={`${one.in} ${one.name} ${one.version}`} className="border-rule border-t border-dashed py-1.5">
              {one.text ? (
                <details>
                  <summary className="cursor-pointer">
                    <Named one={one} />
                  </summary>
                  <pre className="mt-2 whitespace-pre-wrap rounded bg-card p-3 text-xs">{one.text}</pre>
                </details>
              ) : (
                <Named one={one} />
              )}
            </li>
          ))}
        </ul>
      </main>
    </div>
  );
}

function Named({ one }: { one: Made }) {
  return (
    <span>
      {one.name} <span className="text-soft">{one.version}</span>{' '}
      <span className="float-right text-right text-soft">
        {one.licence} · in {one.in}
      </span>
    </span>
  );
}
