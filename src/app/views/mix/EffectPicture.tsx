import { useEffect, useMemo, useRef, useState } from 'react';
import { line, scaleLinear, scaleLog } from 'd3';
import { effectKind } from '../../../core/effects';
import { useAppSelector } from '../../document/store';
import { tunedKeys } from '../../../core/music/tunings';
import { pictureOf, type EffectPicture as Picture } from '../../../core/effects/picture';
import { effectParam } from '../../../core/rig/defaults';
import type { EffectSpec, Patch } from '../../../core/rig/schema';
import { useFrames } from '../../parts/useLive';
import { scope } from '../../sound/scope';
import { session } from '../../sound/session';
import { write } from '../../parts/write';

export const PICTURE = { width: 240, height: 128 };
const pad = 4;

/** Scales of a picture, in pixels. */
export function scalesOf(kind: Picture['kind'], x: readonly number[], width: number, height: number) {
  const across =
    kind === 'response'
      ? scaleLog([20, 20000], [0, width])
      : kind === 'curve'
        ? scaleLinear([-60, 0], [pad, width - pad])
        : scaleLinear([0, x[x.length - 1] || 1], [0, width]);
  const up =
    kind === 'response'
      ? scaleLinear([-24, 24], [height - pad, pad])
      : kind === 'curve'
        ? scaleLinear([-60, 0], [height - pad, pad])
        : kind === 'decay'
          ? scaleLinear([-72, 0], [height, pad])
          : scaleLinear([-30, 6], [height, pad]);
  return { across, up };
}

/** What the effect does now, measured on the effect itself a moment after a value was moved. */
function useMeasured(effect: EffectSpec, patch: Patch): Picture {
  const { tempo } = patch;
  const pitch = useAppSelector((state) => state.rig.rig!.pitch);
  const tuning = patch.tuning ?? pitch.tuning;
  const a4 = patch.a4 ?? pitch.a4;
  const tuned = useMemo(() => tunedKeys(tuning, a4), [tuning, a4]);
  const kind = effectKind(effect.kind);
  const values = useMemo(
    () => Object.fromEntries(Object.keys(kind.parameters).map((id) => [id, effectParam(effect, id)])),
    [kind, effect],
  );
  const measureNow = () => pictureOf(effect.kind, values, effect.steps, tempo, tuned);
  const [picture, setPicture] = useState(measureNow);
  const first = useRef(true);
  useEffect(() => {
    if (first.current) {
      first.current = false;
      return undefined;
    }
    const later = setTimeout(
      () => setPicture(pictureOf(effect.kind, values, effect.steps, tempo, tuned)),
      kind.picture === 'response' ? 25 : 120,
    );
    return () => clearTimeout(later);
  }, [effect.kind, effect.steps, values, tempo, tuned, kind.picture]);
  return picture;
}

export function EffectPicture({ patch, effect }: { patch: Patch; effect: EffectSpec }) {
  const kind = effectKind(effect.kind);
  const picture = useMeasured(effect, patch);
  const { width, height } = PICTURE;
  const { across, up } = scalesOf(picture.kind, picture.x, width, height);
  const d =
    line<number>(
      (_, i) => across(picture.x[i]),
      (y) => Math.max(-4, Math.min(height + 4, up(y))),
    )(picture.y) ?? '';
  const spectrum = useRef<SVGPathElement>(null);
  const bar = useRef<SVGRectElement>(null);
  const number = useRef<SVGTextElement>(null);
  useFrames(() => {
    if (picture.kind === 'response' && spectrum.current) write(spectrum.current, 'd', spectrumPath(width, height));
    if (!kind.readings || !number.current) return;
    const reading = session.meters.readingOf(effect.id);
    number.current.textContent =
      Math.abs(reading) < 0.05 ? '' : `${kind.readings[0].label} ${reading.toFixed(1)} ${kind.readings[0].unit}`;
    if (bar.current) write(bar.current, 'height', String(Math.min(height, Math.max(0, (reading / 24) * height))));
  });
  return (
    <svg
      width="100%"
      viewBox={`0 0 ${width} ${height}`}
      className="shrink-0 rounded-md border border-edge bg-sheet"
      role="img"
      aria-label={`What the ${kind.label} does: ${WORDS[picture.kind]}`}
    >
      <Grid kind={picture.kind} across={across} up={up} last={picture.x[picture.x.length - 1]} />
      {picture.kind === 'response' && <path ref={spectrum} fill="var(--slate)" fillOpacity={0.22} />}
      {picture.kind === 'curve' && (
        <line x1={across(-60)} y1={up(-60)} x2={across(0)} y2={up(0)} stroke="var(--edge)" strokeDasharray="4 3" />
      )}
      {picture.kind === 'decay' && (
        <path d={`${d}L${width} ${height}L0 ${height}Z`} fill="var(--plum)" fillOpacity={0.16} />
      )}
      <path d={d} fill="none" stroke="var(--clay)" strokeWidth={2} opacity={effect.on ? 1 : 0.4} />
      {kind.readings && kind.readings[0].unit === 'dB' && (
        <>
          <rect x={width - 14} y={0} width={10} height={height} fill="none" stroke="var(--edge)" />
          <rect ref={bar} x={width - 14} y={0} width={10} height={0} fill="var(--clay)" fillOpacity={0.6} />
        </>
      )}
      {kind.readings && (
        <text ref={number} x={6} y={14} fontSize={11.5} className="number" fill="var(--ink)" data-testid="reading" />
      )}
    </svg>
  );
}
const WORDS: Record<Picture['kind'], string> = {
  response: 'gain over frequency',
  curve: 'level out over level in',
  decay: 'level after a strike',
  pattern: 'level over a bar',
};

/** What is heard at the place now, in thirds of octaves between −84 and −12 dB, as a path over the width. */
export function spectrumPath(width: number, height: number): string {
  const levels = scope.thirds();
  const across = scaleLog([20, 20000], [0, width]);
  return `M0 ${height}${levels.map(({ hz, db }) => `L${across(hz).toFixed(1)} ${Math.max(0, Math.min(height, height * (1 - (db + 84) / 72))).toFixed(1)}`).join('')}L${width} ${height}Z`;
}

function Grid({
  kind,
  across,
  up,
  last,
}: {
  kind: Picture['kind'];
  across: (x: number) => number;
  up: (y: number) => number;
  last: number;
}) {
  const xs =
    kind === 'response'
      ? [50, 100, 200, 500, 1000, 2000, 5000, 10000]
      : kind === 'curve'
        ? [-48, -36, -24, -12]
        : Array.from({ length: 5 }, (_, i) => (last * (i + 1)) / 6);
  const ys =
    kind === 'response'
      ? [-12, 0, 12]
      : kind === 'curve'
        ? [-48, -36, -24, -12]
        : kind === 'decay'
          ? [-60, -40, -20]
          : [-24, -12, 0];
  const words = (x: number) =>
    kind === 'response'
      ? x >= 1000
        ? `${x / 1000}k`
        : `${x}`
      : kind === 'curve'
        ? `${x}`
        : last < 1.5
          ? `${Math.round(x * 1000)}`
          : x.toFixed(1);
  return (
    <g stroke="var(--line)" fontSize={9} className="number">
      {xs.map((x) => (
        <line key={x} x1={across(x)} x2={across(x)} y1={0} y2={PICTURE.height} />
      ))}
      {ys.map((y) => (
        <line key={y} x1={0} x2={PICTURE.width} y1={up(y)} y2={up(y)} />
      ))}
      {xs
        .filter((_, i) => kind !== 'response' || [1, 4, 7].includes(i))
        .map((x) => (
          <text key={x} x={across(x) + 2} y={PICTURE.height - 2} stroke="none" fill="var(--faint)">
            {words(x)}
          </text>
        ))}
    </g>
  );
}
