/** Asks what a length of 1 means in files that are to be brought in. */
import { useEffect, useState } from 'react';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { UNITS, type Unit } from '../ui/lengths';
import { countOf } from '../ui/numbers';
import { TickRow } from '../ui/rows';
import { Sheet } from '../ui/Sheet';
import { mayHoldObjects } from './importFile';

interface Props {
  /** The files that wait for the answer; null for none. */
  files: File[] | null;
  /** What was answered last. */
  usual: Unit;
  /** The unit of the project. */
  project: Unit;
  /** `apart`: each object of a file becomes a part of its own. */
  onAnswer: (files: File[], unit: Unit, apart: boolean) => void;
  onClose: () => void;
}

export function UnitQuestion({ files, usual, project, onAnswer, onClose }: Props) {
  const [unit, setUnit] = useState<Unit>(usual);
  const [apart, setApart] = useState(false);
  useEffect(() => setUnit(usual), [usual]);
  const names = files?.map((file) => file.name).join(', ');
  return (
    <Sheet title={`Import ${countOf(files?.length ?? 0, 'file')}`} open={files !== null} onClose={onClose}>
      <form
        data-testid="unit-question"
        onSubmit={(event) => {
          event.preventDefault();
          if (files) onAnswer(files, unit, apart && files.some(mayHoldObjects));
        }}
      >
        <p className="truncate text-soft">{names}</p>
        <p className="my-3">
          A length of 1 in the file is 1{' '}
          <Choice label="Unit of the file" testId="file-unit" value={unit} options={UNITS} onChange={setUnit} />.
        </p>
        <p className="mb-4 text-[13.5px] text-soft">
          {unit === project
            ? 'That is the unit of this project: the numbers stay as they are.'
            : `This project is in ${project}: all lengths of the file are converted.`}
        </p>
        {files?.some(mayHoldObjects) && (
          <div className="mb-3">
            <TickRow name="each object of a file a part of its own" on={apart} onChange={setApart} />
          </div>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="primary" type="submit" autoFocus>
            Import
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
