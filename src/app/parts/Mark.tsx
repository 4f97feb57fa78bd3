import type { Mark as MarkValue } from '../../core/rig/schema';

/** Outlines in a box of 14 × 14; ring and wave are drawn as lines. */
export const SHAPES: Record<MarkValue['shape'], { d: string; line?: boolean }> = {
  dot: { d: 'M7 1.5a5.5 5.5 0 1 0 .01 0Z' },
  triangle: { d: 'M7 1.2 13.2 12.6H.8Z' },
  square: { d: 'M1.8 1.8h10.4v10.4H1.8Z' },
  diamond: { d: 'M7 .6 13.4 7 7 13.4.6 7Z' },
  ring: { d: 'M7 2.5a4.5 4.5 0 1 0 .01 0Z', line: true },
  bar: { d: 'M4.6 1h4.8v12H4.6Z' },
  cross: { d: 'M5 1h4v4h4v4H9v4H5V9H1V5h4Z' },
  wave: { d: 'M1 8.5C3 2 5.5 2 7 7s4 5 6-1.5', line: true },
};

export const colourOf = (mark: MarkValue): string => `var(--${mark.colour})`;

/** A shape by its name, in the colour of the words around it; one that is not known is a dot. */
export function Shape({ shape, size = 14 }: { shape: string; size?: number }) {
  const { d, line } = SHAPES[shape as MarkValue['shape']] ?? SHAPES.dot;
  return (
    <svg width={size} height={size} viewBox="0 0 14 14" aria-hidden className="mark shrink-0">
      <path d={d} fill={line ? 'none' : 'currentColor'} stroke="currentColor" strokeWidth={line ? 2.4 : 0} />
    </svg>
  );
}

/** A layer's colour and shape, always together. Decoration: the name stands beside it. */
export function Mark({ mark, size = 14 }: { mark: MarkValue; size?: number }) {
  const { d, line } = SHAPES[mark.shape];
  return (
    <svg width={size} height={size} viewBox="0 0 14 14" aria-hidden className="mark shrink-0">
      <path d={d} fill={line ? 'none' : colourOf(mark)} stroke={colourOf(mark)} strokeWidth={line ? 2.4 : 0} />
    </svg>
  );
}
