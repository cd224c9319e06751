import { type FormEvent, useId } from 'react';
import { Button } from './Button';
import { Sheet } from './Sheet';

interface Props {
  title: string;
  open: boolean;
  initial: string;
  answer: string;
  onClose: () => void;
  onName: (name: string) => void;
}

/** Asks for a name. */
export function NameSheet({ title, open, initial, answer, onClose, onName }: Props) {
  const id = useId();
  const give = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const name = String(new FormData(event.currentTarget).get('name') ?? '').trim();
    if (!name) return;
    onName(name);
    onClose();
  };
  return (
    <Sheet title={title} open={open} onClose={onClose}>
      <form onSubmit={give}>
        <label htmlFor={id} className="mb-1 block text-soft">
          Name
        </label>
        <input
          id={id}
          name="name"
          defaultValue={initial}
          maxLength={120}
          required
          autoComplete="off"
          onFocus={(event) => event.currentTarget.select()}
          className="mb-4 h-9 w-full rounded border border-rule bg-paper px-2"
        />
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="primary" type="submit">
            {answer}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
