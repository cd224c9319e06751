/** What has become of the plan, said to those who do not see it: once it has settled, and only if it says something new. */
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { SPEAK_AFTER_MS } from '../options';
import { planStore } from '../stores/planStore';
import { countOf } from '../ui/numbers';

export function Spoken() {
  const words = useStore(planStore, ({ plan, trouble, planned }) => {
    if (trouble) return trouble;
    if (!planned || !plan) return '';
    if (plan.refusal) return `Can't be made: ${plan.refusal.words}`;
    const added = `${countOf(plan.new_vertices, 'new vertex', 'new vertices')}, ${countOf(plan.new_edges, 'new edge')}`;
    return `Planned: ${added}${plan.notes.length ? `, ${countOf(plan.notes.length, 'note')}` : ''}`;
  });
  const [said, setSaid] = useState('');
  useEffect(() => {
    const timer = setTimeout(() => setSaid(words), SPEAK_AFTER_MS);
    return () => clearTimeout(timer);
  }, [words]);
  return (
    <p aria-live="polite" className="sr-only" data-testid="spoken">
      {said}
    </p>
  );
}
