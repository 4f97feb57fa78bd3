import type { CSSProperties } from 'react';
import type { PadView } from '../show/padView';
import { Shape } from './Mark';

/** The anchors of a pad that is played: shape, colour and name of what each stands for, turned to the inside. */
export function PadAnchors({ anchors, size = 16 }: { anchors: PadView['anchors']; size?: number }) {
  return anchors.map(({ name, x, y, colour, shape }, i) => {
    const toLeft = x > 0.55;
    const style: CSSProperties = {
      color: `var(--${colour})`,
      left: `clamp(6px, ${x * 100}%, calc(100% - 6px))`,
      top: `clamp(16px, ${(1 - y) * 100}%, calc(100% - 16px))`,
      transform: `translate(${toLeft ? '-100%' : '0'}, -50%)`,
      fontSize: size - 1,
    };
    return (
      <span
        key={i}
        className={`pointer-events-none absolute flex max-w-[46%] items-center gap-1 leading-tight ${toLeft ? 'flex-row-reverse text-right' : ''}`}
        style={style}
      >
        <Shape shape={shape} size={size} />
        <span dir="auto" className="line-clamp-2 min-w-0 break-words">
          {name}
        </span>
      </span>
    );
  });
}
