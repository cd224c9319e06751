/** Bring a file of the service to the person, without leaving the page; what is refused is said. */
import { refusalOf, told, unreachable } from '../api/client';
import { SHOW_PROGRESS_AFTER_MS } from '../options';
import { toast } from '../stores/toastStore';

/** The file stays for the browser to take over for so long. */
const TAKEN_OVER_WITHIN_MS = 60_000;

export async function download(address: string): Promise<void> {
  const telling = setTimeout(
    () => toast({ title: 'It is being exported', words: 'What is large takes a while; you can go on meanwhile.' }),
    SHOW_PROGRESS_AFTER_MS,
  );
  try {
    await take(address);
  } catch (error) {
    const { words, elements } = told(error);
    toast({ title: 'It could not be exported', words, elements, tone: 'warning' });
  } finally {
    clearTimeout(telling);
  }
}

async function take(address: string): Promise<void> {
  const answer = await fetch(address).catch(() => {
    throw unreachable();
  });
  if (!answer.ok) throw refusalOf(await answer.json().catch(() => undefined), answer.status);
  const [, name = ''] = /filename="?([^";]+)/.exec(answer.headers.get('Content-Disposition') ?? '') ?? [];
  keepAsFile(await answer.blob(), name);
}

/** Have the browser keep something as a file. */
export function keepAsFile(data: Blob, name: string): void {
  const place = URL.createObjectURL(data);
  const link = document.createElement('a');
  link.href = place;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(place), TAKEN_OVER_WITHIN_MS);
}
