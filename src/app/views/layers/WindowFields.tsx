import { nameOfKey, parseKey } from '../../../core/music/noteNames';
import { parseSource, staysForNote } from '../../../core/space/source';
import { FADE_SHAPES, type FadeShape } from '../../../core/space/window';
import type { LayerWindow } from '../../../core/rig/schema';
import { TypedField } from '../../parts/TypedField';
import { useAppSelector } from '../../document/store';

/** A window in numbers: borders, fades and the shape of the fades. Keys by name or number. */
export function WindowFields({ window, onChange }: { window: LayerWindow; onChange: (window: LayerWindow) => void }) {
  const middleC = useAppSelector((state) => state.settings.middleC);
  const source = parseSource(window.source)!;
  const isKey = source.kind === 'key';
  const step = source.whole ? 1 : 0.01;
  const shown = (value: number) =>
    isKey ? nameOfKey(value, middleC) : source.whole ? String(value) : String(Math.round(value * 1000) / 1000);
  const read = (typed: string): number | undefined => {
    const value = isKey
      ? parseKey(typed, middleC)
      : typed.trim() === ''
        ? NaN
        : Number(typed.replace(',', '.').replace('−', '-'));
    return value === undefined || Number.isNaN(value) ? undefined : value;
  };
  const border = (side: 'low' | 'high', label: string) => (
    <TypedField
      label={label}
      text={shown(window[side])}
      step={(by) => onChange({ ...window, [side]: window[side] + by * step })}
      commit={(typed) => {
        const value = read(typed);
        if (value === undefined)
          return isKey
            ? 'a key such as E3, or a number from 0 to 127'
            : `a number from ${source.low} to ${source.high}`;
        if (value < source.low || value > source.high) return `from ${source.low} to ${source.high}`;
        onChange({ ...window, [side]: value });
        return undefined;
      }}
    />
  );
  const fade = (side: 'fadeIn' | 'fadeOut', label: string) => (
    <TypedField
      label={label}
      text={source.whole ? String(window[side]) : String(Math.round(window[side] * 1000) / 1000)}
      step={(by) => onChange({ ...window, [side]: window[side] + by * step })}
      commit={(typed) => {
        const value = Number(typed.replace(',', '.'));
        if (typed.trim() === '' || !(value >= 0 && value <= source.high - source.low))
          return `a length from 0 to ${source.high - source.low}`;
        onChange({ ...window, [side]: value });
        return undefined;
      }}
    />
  );
  return (
    <div className="grid grid-cols-2 gap-1.5">
      {border('low', 'from')}
      {border('high', 'to')}
      {fade('fadeIn', 'fade in')}
      {fade('fadeOut', 'fade out')}
      {!staysForNote(source.kind) && (
        <label
          className="field col-span-2 flex items-center justify-between"
          title="Whether the gain follows while a note sounds, or stays as it was when the note began"
        >
          <span className="text-[12px] text-faint">is read</span>
          <select
            className="bg-transparent"
            value={window.read}
            onChange={(event) => onChange({ ...window, read: event.target.value as LayerWindow['read'] })}
          >
            <option value="always">all the time</option>
            <option value="at-strike">when a note begins</option>
          </select>
        </label>
      )}
      {(window.fadeIn > 0 || window.fadeOut > 0) && (
        <label className="field col-span-2 flex items-center justify-between">
          <span className="text-[12px] text-faint">shape</span>
          <select
            className="bg-transparent"
            value={window.shape}
            onChange={(event) => onChange({ ...window, shape: event.target.value as FadeShape })}
          >
            {FADE_SHAPES.map((shape) => (
              <option key={shape} value={shape}>
                {SHAPE_NAMES[shape]}
              </option>
            ))}
          </select>
        </label>
      )}
    </div>
  );
}

const SHAPE_NAMES: Record<FadeShape, string> = {
  sine: 'sine (constant power)',
  root: 'root (constant power)',
  linear: 'linear (constant sum)',
};
