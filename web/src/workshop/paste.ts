/** What is pasted into the workshop: the text of an SVG drawing becomes an outline, that of an OBJ file a part. */

import { toast } from '../stores/toastStore';

interface Pasted {
  onPart: (file: File) => void;
  onOutline: (file: File) => void;
  onOther: () => void;
}

const OBJ_VERTEX = /^v\s+\S+\s+\S+\s+\S+/m;
const OBJ_FACE = /^f\s+\S+\s+\S+\s+\S+/m;

/** Listen on the window; gives back how to stop. */
export function listenToPaste({ onPart, onOutline, onOther }: Pasted): () => void {
  const paste = (event: ClipboardEvent): void => {
    if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement) return;
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!text.trim()) return;
    event.preventDefault();
    take(text);
  };
  const take = (text: string): void => {
    if (/<svg[\s>]/i.test(text)) onOutline(new File([text], 'pasted.svg', { type: 'image/svg+xml' }));
    else if (OBJ_VERTEX.test(text) && OBJ_FACE.test(text)) onPart(new File([text], 'pasted.obj'));
    else onOther();
  };
  taking = take;
  window.addEventListener('paste', paste);
  return () => {
    taking = null;
    window.removeEventListener('paste', paste);
  };
}

let taking: ((text: string) => void) | null = null;

/** Paste without a key: the browser asks whether it may be read. */
export async function pasteFromClipboard(): Promise<void> {
  try {
    taking?.(await navigator.clipboard.readText());
  } catch {
    toast({ title: "The clipboard can't be read", words: 'Press Ctrl+V instead.' });
  }
}
