/** The middle of the workshop: the part with all that is drawn above it, or why there is none. */
import { useStore } from 'zustand';
import { DrawingMarks, DrawingPicture } from '../drawing/DrawingLayer';
import { takeUpOpenPlan } from '../hand/planning';
import { LessonAims } from '../lessons/LessonAims';
import { PatchSigns } from '../patches/PatchSigns';
import { tell } from '../projects/projectQueries';
import { partStore } from '../stores/partStore';
import { PlaceHandles } from '../table/PlaceHandles';
import { partAt } from '../table/pickUp';
import { openElementMenu } from '../tools/pick/elementMenu';
import { unitStore } from '../ui/lengths';
import { Viewport } from '../viewport/Viewport';
import { ElementMenu } from './ElementMenu';
import { isNotThere } from './partInHand';
import { Readout } from './Readout';
import { Spoken } from './Spoken';
import { TypedField } from './TypedField';
import { ViewBar } from './ViewBar';

interface Props {
  project: number;
  shown: number | null;
  /** The project is known, and has no part. */
  empty: boolean;
  error: Error | null;
  onDrawn: () => void;
  /** Another part was pointed at twice. */
  onPart: (part: number) => void;
}

export function PartArea({ project, shown, empty, error, onDrawn, onPart }: Props) {
  const trouble = useStore(partStore, (s) => s.trouble);
  const unit = useStore(unitStore, (s) => s.unit);
  return (
    <main className="drafting relative min-w-0 flex-1">
      {shown !== null && (
        <Viewport
          under={<DrawingPicture before={false} />}
          over={<DrawingPicture before />}
          above={
            <>
              <DrawingMarks />
              <PatchSigns />
              <LessonAims />
              <ElementMenu />
              <PlaceHandles project={project} />
            </>
          }
          onDrawn={() => {
            onDrawn();
            takeUpOpenPlan();
          }}
          onMenu={(at) => void openElementMenu(at)}
          onTwice={(at) =>
            void partAt(at)
              .then((id) => id !== null && onPart(id))
              .catch(tell)
          }
        />
      )}
      <ViewBar />
      {shown !== null && <Readout key={unit} />}
      <TypedField />
      <Spoken />
      {trouble && (
        <p
          role="alert"
          data-testid="part-trouble"
          className="absolute top-16 left-4 rounded border border-ochre bg-card p-3"
        >
          {trouble}
        </p>
      )}
      {error && !isNotThere(error) && (
        <p role="alert" className="absolute top-16 left-4 rounded border border-ochre bg-card p-3">
          {error.message}
        </p>
      )}
      {empty && (
        <p className="absolute inset-0 m-auto h-fit w-fit max-w-md rounded-lg border border-rule border-dashed bg-card px-8 py-6 text-center text-soft">
          This project has no part yet. Begin with a starter shape (the plus at the top left), or drop a file here.
        </p>
      )}
    </main>
  );
}
