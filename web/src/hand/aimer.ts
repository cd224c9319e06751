/** Asking for what lies under the pointer: as it hovers, and for a click or a drag at a place of its own. */

import type { View } from '../api/client';
import { newestOnly } from '../api/newest';
import { type Meant, meant, stillMeant } from '../stores/meant';
import { planStore } from '../stores/planStore';
import { viewStore } from '../stores/viewStore';
import { meetWhilePlanning } from './planning';
import type { PointerPlace } from './tool';

/** What lies under the pointer is asked again if there was no answer for so long. */
const GIVE_UP_AFTER_MS = 4000;

/** A pointer in a view, and what was meant by it. */
export interface Pointed extends Meant {
  view: View;
  pointer: PointerPlace;
}

interface Aiming<Answer> {
  ask: (pointed: Pointed) => Promise<Answer>;
  /** Show what the newest place of the pointer gives; of older ones and of a pointer that has left nothing is shown. */
  show: (answer: Answer, pointed: Pointed) => void;
  /** Nothing is under the pointer any more, or it could not be asked. */
  lose: () => void;
}

interface Aimer<Answer> {
  /** The pointer hovers here; null when it has left the part's picture. */
  hover: (pointer: PointerPlace | null) => void;
  /** What lies at a place that was clicked or let go at; null if something else is meant by the time it is answered. */
  at: (pointer: PointerPlace) => Promise<{ answer: Answer; pointed: Pointed } | null>;
}

export function aimer<Answer>({ ask, show, lose }: Aiming<Answer>): Aimer<Answer> {
  const pointedAt = (pointer: PointerPlace): Pointed | null => {
    const now = meant();
    return now?.view ? { ...now, view: now.view, pointer } : null;
  };
  const askForMark = newestOnly(async (pointed: Pointed, isNewest) => {
    try {
      const answer = await ask(pointed);
      if (
        !isNewest() ||
        !stillMeant(pointed) ||
        viewStore.getState().view !== pointed.view ||
        !planStore.getState().pointer
      )
        return;
      show(answer, pointed);
      planStore.setState({ trouble: null });
    } catch (error) {
      if (!isNewest() || !stillMeant(pointed)) return;
      lose();
      meetWhilePlanning(error);
    }
  }, GIVE_UP_AFTER_MS);
  return {
    hover(pointer) {
      planStore.setState({ pointer });
      if (!pointer) lose();
      const pointed = pointer && pointedAt(pointer);
      if (pointed) askForMark(pointed);
    },
    async at(pointer) {
      const pointed = pointedAt(pointer);
      if (!pointed) return null;
      const answer = await ask(pointed);
      return stillMeant(pointed) ? { answer, pointed } : null;
    },
  };
}

/** Questions of which only the answer to the newest counts, and only while what it was about is still meant. */
export function newestAnswer(): <Answer>(ask: (now: Meant) => Promise<Answer>) => Promise<Answer | null> {
  let asked = 0;
  return async (ask) => {
    const now = meant();
    if (!now) return null;
    asked += 1;
    const turn = asked;
    const answer = await ask(now);
    return turn === asked && stillMeant(now) ? answer : null;
  };
}
