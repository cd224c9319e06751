import LessonList from '../lessons/LessonList';
import { openSheet } from '../stores/sheetStore';
import { Sheet } from '../ui/Sheet';

export function LessonsSheet({ onLeave }: { onLeave: (run: () => void) => void }) {
  return (
    <Sheet title="Lessons on the Skerry Light" open onClose={() => openSheet(null)} wide>
      <p className="mb-3 text-soft">
        A few sentences each, beside the real workshop, on a copy that is let go afterwards.
      </p>
      <LessonList
        onLeave={(run) => {
          openSheet(null);
          onLeave(run);
        }}
      />
    </Sheet>
  );
}
