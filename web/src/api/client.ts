/** The one door to the service: typed by the generated schema, with the page's token on every request. */
import createClient, { type Middleware } from 'openapi-fetch';
import { answered } from './connection';
import type { components, paths } from './generated';

export type Schemas = components['schemas'];
export type KnifePoint = Schemas['MarkOut']['point'];
export type View = Schemas['View'];
export type Step = Schemas['MakeIn']['step'];

/** A refusal from the service, or `code: 'unreachable'` if there was no answer. */
export class Refusal extends Error {
  constructor(
    readonly code: string,
    readonly words: string,
    /** What of the part it is about. */
    readonly elements: readonly Record<string, unknown>[] = [],
  ) {
    super(words);
  }
}

/** What there is to say of anything that went wrong, and what of the part it is about. */
export const told = (error: unknown): Pick<Refusal, 'words' | 'elements'> =>
  error instanceof Refusal ? error : { words: String(error), elements: [] };

export function token(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? '';
}

export const unreachable = (): Refusal =>
  new Refusal('unreachable', 'The workshop does not answer. Your plan is kept; it goes on when the server is back.');

const withToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', token());
    return request;
  },
  onResponse() {
    answered();
  },
  onError() {
    return unreachable();
  },
};

export const client = createClient<paths>({ baseUrl: '/' });
client.use(withToken);

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer; throws a Refusal if the service said no. */
export async function expectData<T>(asked: Promise<Answer<T>>): Promise<NonNullable<T>> {
  const { data, error, response } = await asked;
  if (response.ok && data !== undefined && data !== null) return data;
  throw refusalOf(error, response.status);
}

export async function expectDone(asked: Promise<Answer<unknown>>): Promise<void> {
  const { error, response } = await asked;
  if (!response.ok) throw refusalOf(error, response.status);
}

export function refusalOf(error: unknown, status: number): Refusal {
  const body = error as Partial<Schemas['ErrorOut']> | undefined;
  if (body && typeof body.words === 'string') return new Refusal(body.code ?? 'refused', body.words, body.elements);
  if (status === 413) return new Refusal('too-large', 'The file is over the size limit.');
  return new Refusal('failed', `The workshop answered with an error (${status}).`);
}
