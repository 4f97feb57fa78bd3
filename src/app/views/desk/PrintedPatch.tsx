import { labelIn } from '../../../core/rig/moves';
import { createPortal } from 'react-dom';
import { nameOfKey } from '../../../core/music/noteNames';
import { isBlackKey } from '../../../core/music/pitch';
import { handJobs, whatItMoves } from '../../../core/rig/hands';
import { soundsOf } from '../../../core/rig/defaults';
import type { Patch, Rig } from '../../../core/rig/schema';
import { useAppSelector } from '../../document/store';
import { formatDb } from '../../parts/format';
import { SHAPES } from '../../parts/Mark';
import { paramOf } from '../../../core/rig/defaults';

const WIDTH = 720,
  ROW = 20,
  KEYS = 46;

/** The patch on one page of paper: where its layers lie on the keys, what hands move, notes. */
export function PrintedPatch({ rig, patch }: { rig: Rig; patch: Patch }) {
  const middleC = useAppSelector((state) => state.settings.middleC);
  const { keyLow, keyHigh } = rig.controllers;
  const count = keyHigh - keyLow + 1;
  const x = (key: number): number => ((Math.max(keyLow, Math.min(keyHigh + 1, key)) - keyLow) / count) * WIDTH;
  const of = (id: string, groupId: string | null) => [
    ...patch.layers.find((layer) => layer.id === id)!.windows,
    ...(patch.groups.find((group) => group.id === groupId)?.windows ?? []),
  ];
  const hands = handJobs(patch);
  const bends = patch.layers.filter((layer) => layer.on && layer.receive.bend);
  return createPortal(
    <article className="printed" data-testid="printed-patch">
      <h1>{patch.name}</h1>
      <p className="notes">
        {rig.name} · ♩ = {patch.tempo}
        {patch.notes ? `\n${patch.notes}` : ''}
      </p>
      <svg
        viewBox={`0 0 ${WIDTH} ${KEYS + patch.layers.length * ROW + 16}`}
        style={{ width: '100%', marginTop: '0.8em' }}
        aria-hidden
      >
        {patch.layers.map((layer, n) => {
          const keys = of(layer.id, layer.groupId).filter(({ source }) => source === 'key');
          const low = Math.max(keyLow, ...keys.map((window) => window.low));
          const high = Math.min(keyHigh, ...keys.map((window) => window.high));
          const y = n * ROW;
          const [first] = keys;
          return (
            <g key={layer.id} opacity={layer.on ? 1 : 0.4}>
              {low <= high && (
                <polygon
                  points={`${x(low)},${y + ROW - 5} ${x(low + (first?.fadeIn ?? 0))},${y + 3} ${x(high + 1 - (first?.fadeOut ?? 0))},${y + 3} ${x(high + 1)},${y + ROW - 5}`}
                  fill="#dddddd"
                  stroke="#444444"
                  strokeWidth={0.6}
                />
              )}
              <g transform={`translate(${x(low) + 4} ${y + 5}) scale(0.6)`}>
                <path
                  d={SHAPES[layer.mark.shape].d}
                  fill={SHAPES[layer.mark.shape].line ? 'none' : '#111111'}
                  stroke="#111111"
                  strokeWidth={SHAPES[layer.mark.shape].line ? 2 : 0}
                />
              </g>
              <text x={x(low) + 17} y={y + 13.5} fontSize={9.5}>
                {layer.name}
              </text>
            </g>
          );
        })}
        <g transform={`translate(0 ${patch.layers.length * ROW + 2})`}>
          <rect width={WIDTH} height={KEYS} fill="#ffffff" stroke="#111111" strokeWidth={0.8} />
          {Array.from({ length: count }, (_, n) => keyLow + n).map((key) =>
            isBlackKey(key) ? (
              <rect key={key} x={x(key)} width={WIDTH / count} height={KEYS * 0.6} fill="#111111" />
            ) : (
              <line
                key={key}
                x1={x(key)}
                x2={x(key)}
                y1={isBlackKey(key - 1) ? KEYS * 0.6 : 0}
                y2={KEYS}
                stroke="#111111"
                strokeWidth={0.4}
              />
            ),
          )}
          {Array.from({ length: count }, (_, n) => keyLow + n)
            .filter((key) => key % 12 === 0)
            .map((key) => (
              <text key={key} x={x(key) + 1.5} y={KEYS + 10} fontSize={8}>
                {nameOfKey(key, middleC)}
              </text>
            ))}
        </g>
      </svg>
      <table>
        <tbody>
          {patch.layers.map((layer) => {
            const windows = of(layer.id, layer.groupId);
            const said = (source: string) =>
              windows.filter(
                (window) => window.source === source && (source !== 'velocity' || window.low > 1 || window.high < 127),
              );
            const velocity = said('velocity')[0];
            const others = windows.filter(({ source }) => source !== 'key' && source !== 'velocity');
            return (
              <tr key={layer.id}>
                <td>{layer.on ? '' : '(off)'}</td>
                <td>
                  <b>{layer.name}</b>{' '}
                  <span className="notes">
                    {soundsOf(layer)
                      .map((id) => rig.sounds.find((sound) => sound.id === id)?.name)
                      .join(', ')}
                  </span>
                  {others.length > 0 && (
                    <div className="notes">
                      {others
                        .map((window) => `${labelIn(patch, window.source)} ${window.low} to ${window.high}`)
                        .join(' · ')}
                    </div>
                  )}
                </td>
                <td>{velocity ? `velocity ${velocity.low} to ${velocity.high}` : ''}</td>
                <td>
                  {layer.transpose !== 0
                    ? `${layer.transpose > 0 ? '+' : '−'}${Math.abs(layer.transpose)} semitones`
                    : ''}
                </td>
                <td>{formatDb(paramOf(layer, 'level'))}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <table>
        <tbody>
          {patch.macros.map(({ number, name }) => (
            <tr key={number}>
              <td>macro {number}</td>
              <td>
                <b>{name}</b> <span className="notes">{whatItMoves(patch, `macro.${number}`)}</span>
              </td>
            </tr>
          ))}
          {patch.xyPads.map(({ number, name }) => (
            <tr key={`xy${number}`}>
              <td>pad {number}</td>
              <td>
                <b>{name}</b>{' '}
                <span className="notes">
                  {['x', 'y']
                    .map((axis) => whatItMoves(patch, `xy.${number}.${axis}`))
                    .filter(Boolean)
                    .join(', ')}
                </span>
              </td>
            </tr>
          ))}
          {hands.map(({ source, label, does }) => (
            <tr key={source}>
              <td>{label}</td>
              <td>{does}</td>
            </tr>
          ))}
          {bends.length > 0 && (
            <tr>
              <td>bend</td>
              <td>{bends.length === patch.layers.length ? 'all layers' : bends.map(({ name }) => name).join(', ')}</td>
            </tr>
          )}
        </tbody>
      </table>
    </article>,
    document.body,
  );
}
