import { useRef } from 'react';
import { scaleLog } from 'd3';
import { useFrames } from '../../parts/useLive';
import { PICTURE, spectrumPath } from './EffectPicture';
import { write } from '../../parts/write';

const HEIGHT = 64;
const across = scaleLog([20, 20000], [0, PICTURE.width]);

/** What comes out of the place that is looked at, in thirds of octaves, now. */
export function Spectrum() {
  const path = useRef<SVGPathElement>(null);
  useFrames(() => {
    write(path.current, 'd', spectrumPath(PICTURE.width, HEIGHT));
  });
  return (
    <svg
      width="100%"
      viewBox={`0 0 ${PICTURE.width} ${HEIGHT}`}
      className="shrink-0 rounded-md border border-edge bg-sheet"
      role="img"
      aria-label="Spectrum of what comes out here"
    >
      {[50, 100, 200, 500, 1000, 2000, 5000, 10000].map((hz) => (
        <line key={hz} x1={across(hz)} x2={across(hz)} y1={0} y2={HEIGHT} stroke="var(--line)" />
      ))}
      <path ref={path} fill="var(--slate)" fillOpacity={0.4} stroke="var(--slate)" strokeWidth={1} />
      {[100, 1000, 10000].map((hz) => (
        <text key={hz} x={across(hz) + 2} y={HEIGHT - 2} fontSize={9} fill="var(--faint)" className="number">
          {hz >= 1000 ? `${hz / 1000}k` : hz}
        </text>
      ))}
    </svg>
  );
}
