import { type ReactNode, useRef, useState } from 'react';

/** Takes files dropped anywhere on what it holds, and says so while they hover. */
export function DropZone({
  words,
  onFiles,
  children,
}: {
  words: string;
  onFiles: (files: File[]) => void;
  children: ReactNode;
}) {
  const [over, setOver] = useState(false);
  const depth = useRef(0);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files are dropped anywhere; there is a button for them, too
    <div
      className="relative h-full"
      onDragEnter={(event) => {
        event.preventDefault();
        depth.current += 1;
        setOver(true);
      }}
      onDragOver={(event) => event.preventDefault()}
      onDragLeave={() => {
        depth.current -= 1;
        if (depth.current === 0) setOver(false);
      }}
      onDrop={(event) => {
        event.preventDefault();
        depth.current = 0;
        setOver(false);
        onFiles([...event.dataTransfer.files]);
      }}
    >
      {children}
      {over && (
        <div className="pointer-events-none absolute inset-3 z-30 flex items-center justify-center rounded-xl border-2 border-tide border-dashed bg-card/85 font-display text-xl">
          {words}
        </div>
      )}
    </div>
  );
}
