import { Volume2 } from 'lucide-react';
import { useState } from 'react';
import { auditionSound } from '../../jobs/audition';
import { notice, useAppDispatch } from '../../document/store';
import { tray } from '../../jobs/tray';

/** So many fit on a screen; with more there is a field to find them by. */
const MANY = 12;
const counted = (count: number, one: string) => `${count} ${count === 1 ? one : `${one}s`}`;

/** Sounds that came whole, from SFZ files and SoundFonts: heard, chosen, and what was left of each. */
export function WholeSounds() {
  const dispatch = useAppDispatch();
  const [sought, setSought] = useState('');
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = tray.sounds.filter(({ name }) => words.every((word) => name.toLowerCase().includes(word)));
  const wanted = tray.sounds.filter((sound) => sound.wanted).length;
  const hear = async (sound: (typeof shown)[number]) => {
    const problem = await auditionSound(sound);
    if (problem) dispatch(notice('problem', problem, 'audition'));
  };
  return (
    <div className="row-span-2 flex min-h-0 flex-col">
      <div className="flex h-9 shrink-0 items-center gap-2 border-b border-line px-3 text-[12px]">
        <span className="font-semibold">
          {counted(tray.sounds.length, 'sound')}, {wanted} chosen
        </span>
        {tray.sounds.length > MANY && (
          <input
            type="search"
            className="field w-44"
            aria-label="Find a sound"
            placeholder="find …"
            value={sought}
            onChange={(event) => setSought(event.target.value)}
            onKeyDown={(event) => event.stopPropagation()}
          />
        )}
        <button className="button ml-auto px-2! py-0!" onClick={() => tray.want(shown, true)}>
          choose {words.length > 0 ? 'these' : 'all'}
        </button>
        <button className="button px-2! py-0!" onClick={() => tray.want(shown, false)}>
          choose none{words.length > 0 ? ' of these' : ''}
        </button>
      </div>
      <ul aria-label="Sounds that came in" className="min-h-0 flex-1 overflow-y-auto px-3">
        {shown.map((sound) => {
          const empty = sound.zones.length === 0;
          return (
            <li key={`${sound.file} ${tray.sounds.indexOf(sound)}`} className="border-b border-line py-1.5">
              <div className="flex items-center gap-2">
                <label className="flex min-w-0 flex-1 items-center gap-2">
                  <input
                    type="checkbox"
                    checked={sound.wanted}
                    disabled={empty}
                    onChange={(event) => tray.want([sound], event.target.checked)}
                  />
                  <span className="font-semibold">{sound.name}</span>
                  <span className="truncate text-[12px] text-faint">
                    {counted(sound.zones.length, 'zone')}, {counted(sound.samples.length, 'sample')}, from {sound.file}
                  </span>
                </label>
                <button
                  className="button-bare"
                  aria-label={`Hear ${sound.name}`}
                  title="Hear a note of it, beside what plays"
                  disabled={empty}
                  onClick={() => void hear(sound)}
                >
                  <Volume2 size={13} />
                </button>
              </div>
              {sound.warnings.map((warning) => (
                <p key={warning} className="pl-6 text-[12px] text-alarm">
                  {warning}
                </p>
              ))}
              {sound.notCarried.length > 0 && (
                <p className="pl-6 text-[12px] text-faint">
                  Not carried over:{' '}
                  {sound.notCarried
                    .slice(0, 12)
                    .map(({ what, count }) => `${what}${count > 1 ? ` × ${count}` : ''}`)
                    .join(', ')}
                  {sound.notCarried.length > 12 ? ` and ${sound.notCarried.length - 12} more` : ''}
                </p>
              )}
            </li>
          );
        })}
        {shown.length === 0 && <li className="py-3 text-faint">No sound of that name came in.</li>}
      </ul>
    </div>
  );
}
