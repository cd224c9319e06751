/** Which screen is on, as the address says. */
import { createStore } from 'zustand/vanilla';

type Route =
  | { screen: 'projects' }
  | { screen: 'about' }
  | { screen: 'workshop'; project: number; part: number | null };

const ABOUT = '/about';

export const routeStore = createStore<{ route: Route }>(() => ({ route: read() }));

/** Asked before the browser's own way back or forward is taken; true keeps the page where it is. */
let holding: (to: Route) => boolean = () => false;

/** Let something be asked before the page is left by the browser's own buttons; gives back how to stop. */
export function holdNavigation(ask: (to: Route) => boolean): () => void {
  holding = ask;
  return () => {
    holding = () => false;
  };
}

window.addEventListener('popstate', () => {
  const to = read();
  // Only a place within the page.
  if (addressOf(to) === addressOf(routeStore.getState().route)) return;
  if (holding(to)) history.pushState(null, '', addressOf(routeStore.getState().route));
  else routeStore.setState({ route: to });
});

function read(): Route {
  const found = /^\/projects\/(\d+)(?:\/parts\/(\d+))?$/.exec(location.pathname);
  if (!found) return { screen: location.pathname === ABOUT ? 'about' : 'projects' };
  return { screen: 'workshop', project: Number(found[1]), part: found[2] ? Number(found[2]) : null };
}

function addressOf(route: Route): string {
  if (route.screen === 'projects') return '/';
  if (route.screen === 'about') return ABOUT;
  return `/projects/${route.project}${route.part === null ? '' : `/parts/${route.part}`}`;
}

/** Go to a screen; `replace` leaves no way back to the one before. */
export function go(route: Route, { replace = false } = {}): void {
  history[replace ? 'replaceState' : 'pushState'](null, '', addressOf(route));
  routeStore.setState({ route });
}
