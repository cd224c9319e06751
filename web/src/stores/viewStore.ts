/** How the part is looked at. Kept across reloads where a person would expect it. */
import { createStore } from 'zustand/vanilla';
import type { View } from '../api/client';
import type { ViewName } from '../viewport/stage';
import { stageOf } from '../viewport/stageOf';

interface ViewState {
  view: View | null;
  name: ViewName;
  wire: boolean;
  seeThrough: boolean;
  night: boolean;
}

export const viewStore = createStore<ViewState>(() => ({
  view: null,
  name: 'perspective',
  wire: localStorage.getItem('wire') !== 'off',
  seeThrough: localStorage.getItem('see-through') === 'on',
  night: localStorage.getItem('theme') === 'night',
}));

export function toggleWire(): void {
  viewStore.setState(({ wire }) => ({ wire: !wire }));
  localStorage.setItem('wire', viewStore.getState().wire ? 'on' : 'off');
}

export function toggleSeeThrough(): void {
  viewStore.setState(({ seeThrough }) => ({ seeThrough: !seeThrough }));
  localStorage.setItem('see-through', viewStore.getState().seeThrough ? 'on' : 'off');
}

export function toggleNight(): void {
  viewStore.setState(({ night }) => ({ night: !night }));
  localStorage.setItem('theme', viewStore.getState().night ? 'night' : 'day');
  putOnTheme();
}

export function putOnTheme(): void {
  document.documentElement.dataset.theme = viewStore.getState().night ? 'night' : 'day';
}

export function takeView(name: ViewName): void {
  void stageOf.current?.takeView(name);
}
