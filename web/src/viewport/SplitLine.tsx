/** The line between the smooth form before and after what is planned; it is dragged across the picture. */
import { useStore } from 'zustand';
import { viewStore } from '../stores/viewStore';
import { formatLength } from '../ui/numbers';
import { stageOf } from './stageOf';

const STEP = 0.02;

export function SplitLine() {
  const after = useStore(viewStore, (s) => s.after);
  const split = useStore(viewStore, (s) => s.split);
  const moves = useStore(viewStore, (s) => s.moves);
  if (!after) return null;
  const put = (share: number): void => viewStore.setState({ split: Math.min(1, Math.max(0, share)) });
  const drag = (event: React.PointerEvent<HTMLDivElement>): void => {
    const box = event.currentTarget.parentElement?.getBoundingClientRect();
    if (box && event.currentTarget.hasPointerCapture(event.pointerId)) put((event.clientX - box.left) / box.width);
  };
  const at = `${100 * split}%`;
  return (
    <div className="pointer-events-none absolute inset-0" data-testid="split" data-most={after.most}>
      <div
        role="slider"
        tabIndex={0}
        aria-label="Line between the smooth form before and after"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(100 * split)}
        data-testid="split-line"
        className="pointer-events-auto absolute top-12 bottom-16 w-4 -translate-x-1/2 cursor-ew-resize touch-none"
        style={{ left: at }}
        onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
        onPointerMove={drag}
        onKeyDown={(event) => {
          if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
          event.preventDefault();
          event.stopPropagation();
          put(split + (event.key === 'ArrowLeft' ? -STEP : STEP));
        }}
      >
        <div className="mx-auto h-full w-0 border-ink border-l-2 border-dashed" />
      </div>
      <div
        className="absolute bottom-20 flex -translate-x-1/2 items-center gap-3 whitespace-nowrap rounded border border-rule bg-card px-3 py-1 shadow-sm"
        style={{ left: `clamp(13rem, ${at}, calc(100% - 13rem))` }}
      >
        <span className="font-semibold">before</span>
        <span aria-hidden>┆</span>
        <span className="font-semibold">after</span>
        <span className="text-soft" data-testid="form-moves">
          {after.most > 0 ? `moves by up to ${formatLength(after.most)}` : 'the form stays'}
        </span>
        {after.most > 0 && (
          <button
            type="button"
            aria-pressed={moves}
            className={`pointer-events-auto ${moves ? 'stitched font-semibold' : 'underline'}`}
            data-testid="show-moves"
            onClick={() => viewStore.setState({ moves: !moves })}
          >
            where
          </button>
        )}
        {moves && after.at && (
          <button
            type="button"
            className="pointer-events-auto underline"
            onClick={() => after.at && void stageOf.current?.showPlaces([after.at])}
          >
            Show the most
          </button>
        )}
      </div>
    </div>
  );
}
