import { NumberBox } from '../../parts/NumberBox';
import type { PointerEvent } from 'react';

let gestures = 0;

/** A row of levels 0…1, drawn over with the pointer, or set by arrow keys. */
export function LevelSteps({
  label,
  values,
  most,
  onChange,
  onEnd,
}: {
  label: string;
  values: readonly number[];
  most: number;
  onChange: (values: number[], gesture?: string) => void;
  onEnd: () => void;
}) {
  const set = (event: PointerEvent<HTMLDivElement>) => {
    const { left, top, width, height } = event.currentTarget.getBoundingClientRect();
    const at = Math.min(values.length - 1, Math.max(0, Math.floor(((event.clientX - left) / width) * values.length)));
    const value = Math.round(Math.min(1, Math.max(0, 1 - (event.clientY - top) / height)) * 20) / 20;
    onChange(
      values.map((old, i) => (i === at ? value : old)),
      event.currentTarget.dataset.gesture,
    );
  };
  const count = (n: number) =>
    onChange(
      Array.from({ length: Math.min(most, Math.max(1, n)) }, (_, i) => values[i] ?? values[i % values.length] ?? 1),
    );
  return (
    <>
      <div
        role="group"
        aria-label={label}
        className="flex h-[72px] shrink-0 touch-none gap-px rounded-md border border-edge bg-sheet p-px"
        data-gesture=""
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          event.currentTarget.dataset.gesture = `levels ${++gestures}`;
          set(event);
        }}
        onPointerMove={(event) => {
          if (event.currentTarget.hasPointerCapture(event.pointerId)) set(event);
        }}
        onPointerUp={onEnd}
      >
        {values.map((value, i) => (
          <div
            key={i}
            role="slider"
            tabIndex={0}
            aria-label={`Level ${i + 1}`}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuenow={Math.round(value * 100)}
            className="relative min-w-0 flex-1"
            onKeyDown={(event) => {
              const by = { ArrowUp: 0.05, ArrowDown: -0.05 }[event.key];
              if (by === undefined) return;
              event.preventDefault();
              event.stopPropagation();
              onChange(values.map((old, n) => (n === i ? Math.min(1, Math.max(0, old + by)) : old)));
            }}
          >
            <div
              className="absolute inset-x-0 bottom-0 bg-clay/50"
              style={{ height: `${Math.max(2, value * 100)}%` }}
            />
          </div>
        ))}
      </div>
      <label className="flex items-center justify-between gap-2">
        steps
        <NumberBox value={values.length} low={1} high={most} className="w-16" onChange={count} />
      </label>
    </>
  );
}
