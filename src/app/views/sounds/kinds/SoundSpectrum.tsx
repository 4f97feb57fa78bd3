import { useRef } from 'react';
import { scaleLinear, scaleLog } from 'd3';
import { filterResponse } from '../../../../core/engine/pictures/filterPicture';
import type { Layer } from '../../../../core/rig/schema';
import { prepared, themeColour } from '../../../parts/canvas';
import { useSize } from '../../../parts/useSize';
import { useFrames } from '../../../parts/useLive';
import { scope } from '../../../sound/scope';

const LOWEST_DB = -96;
const FREQUENCIES = 300;

/**
 * The spectrum of what sounds now, and over it what the filters let through: both measured, by the scope and by the
 * filters' own code.
 */
export function SoundSpectrum({ layer, colour, heldKey }: { layer: Layer; colour: string; heldKey: number }) {
  const [box, width, height] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const fallen = useRef(new Float64Array(2048).fill(LOWEST_DB));
  useFrames(() => {
    const context = prepared(canvas, width, height);
    if (!context) return;
    const x = scaleLog([25, 20000], [8, width - 8]);
    const y = scaleLinear([0, LOWEST_DB], [22, height - 18]);
    context.clearRect(0, 0, width, height);
    context.font = '10.5px "Atkinson Hyperlegible Mono", monospace';
    context.lineWidth = 1;
    for (const hz of [50, 100, 200, 500, 1000, 2000, 5000, 10000]) {
      context.strokeStyle = themeColour('--line');
      context.beginPath();
      context.moveTo(x(hz), 4);
      context.lineTo(x(hz), height - 16);
      context.stroke();
      context.fillStyle = themeColour('--faint');
      context.fillText(hz >= 1000 ? `${hz / 1000}k` : String(hz), x(hz) + 3, height - 5);
    }
    const bins = scope.bins();
    context.strokeStyle = themeColour(colour.slice(4, -1));
    context.lineWidth = 1.2;
    context.beginPath();
    for (let k = 2; k < bins.length; k++) {
      const hz = (k * scope.rate) / (2 * bins.length);
      if (hz > 20000) break;
      const last = fallen.current;
      last[k] = Math.max(bins[k], last[k] - 2.5);
      if (last[k] <= LOWEST_DB) continue;
      context.moveTo(x(hz), height - 18);
      context.lineTo(x(hz), y(Math.min(0, last[k])));
    }
    context.globalAlpha = 0.75;
    context.stroke();
    context.globalAlpha = 1;
    const frequencies = Array.from({ length: FREQUENCIES }, (_, i) =>
      x.invert(8 + ((width - 16) * i) / (FREQUENCIES - 1)),
    );
    const level = scaleLinear([24, -48], [22, height - 18]);
    context.strokeStyle = themeColour('--ink');
    context.lineWidth = 1.8;
    context.save();
    context.beginPath();
    context.rect(0, 0, width, height - 18);
    context.clip();
    context.beginPath();
    filterResponse(layer, frequencies, heldKey - layer.transpose, 100).forEach((db, i) => {
      const at = level(Math.max(-60, Math.min(24, db)));
      if (i === 0) context.moveTo(x(frequencies[i]), at);
      else context.lineTo(x(frequencies[i]), at);
    });
    context.stroke();
    context.restore();
  });
  return (
    <div
      ref={box}
      className="relative min-h-0 overflow-hidden bg-sheet"
      role="img"
      aria-label="Spectrum of what sounds, and what the filters let through"
    >
      <canvas ref={canvas} className="absolute inset-0" />
      <p className="pointer-events-none absolute top-1 left-3 text-[12px] font-semibold">
        what sounds, and what the filters let through
      </p>
    </div>
  );
}
