/** Short messages about what happened elsewhere than where the person looks. */
import { createStore } from 'zustand/vanilla';
import type { Refusal } from '../api/client';

interface ToastMessage {
  id: number;
  title: string;
  words?: string;
  tone: 'plain' | 'warning';
  action?: { label: string; run: () => void };
  /** Places of the part that it is about, to be shown. */
  elements?: Refusal['elements'];
}

export const toastStore = createStore<{ toasts: ToastMessage[] }>(() => ({ toasts: [] }));

let last = 0;

export function toast(message: Omit<ToastMessage, 'id' | 'tone'> & { tone?: ToastMessage['tone'] }): void {
  last += 1;
  toastStore.setState(({ toasts }) => ({ toasts: [...toasts, { tone: 'plain', ...message, id: last }] }));
}

export function dropToast(id: number): void {
  toastStore.setState(({ toasts }) => ({ toasts: toasts.filter((t) => t.id !== id) }));
}
