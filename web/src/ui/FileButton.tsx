import { type ReactNode, useRef } from 'react';

interface Props {
  accept: string;
  onFiles: (files: File[]) => void;
  /** Draws the control; `open` shows the file dialog. */
  children: (open: () => void) => ReactNode;
}

/** A control that asks for files. */
export function FileButton({ accept, onFiles, children }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept}
        multiple
        hidden
        data-testid="file"
        onChange={(event) => {
          onFiles([...(event.currentTarget.files ?? [])]);
          event.currentTarget.value = '';
        }}
      />
      {children(() => input.current?.click())}
    </>
  );
}
