import { useEffect, useRef, useState } from 'react';
import { labelOfControl } from '../../../core/music/control';
import { nameOfKey } from '../../../core/music/noteNames';
import type { ControllerSetup } from '../../../core/rig/schema';
import { labelOfSource } from '../../../core/space/source';
import { session } from '../../sound/session';
import { edit, useAppDispatch, useAppSelector } from '../../document/store';
import { NumberField } from '../../parts/NumberField';
import { SheetFrame } from '../../parts/Sheet';
import { useRefresh } from '../../parts/useLive';
import { MOST_PORTS } from '../../../core/rig/limits';

const TAKEOVER: Record<ControllerSetup['takeover'], string> = {
  jump: 'jumps there at once',
  'pick-up': 'waits until it has reached the value',
  scaled: 'goes in proportion to the way that is left',
};

/**
 * What is known of the hardware: its ports, its real range, its pedals, its fingers, what was learned, and how controls
 * take over.
 */
export function ControllersSheet() {
  useRefresh(session.midi);
  const dispatch = useAppDispatch();
  const setup = useAppSelector((state) => state.rig.rig!.controllers);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const set = (to: Partial<ControllerSetup>) =>
    dispatch(edit((rig) => ({ ...rig, controllers: { ...rig.controllers, ...to } })));
  const here = session.midi.status.names;
  return (
    <SheetFrame title="Controllers" wide>
      <div className="flex flex-col gap-3">
        <section aria-label="Ports">
          <h3 className="heading">Ports that layers tell apart</h3>
          <p className="text-[12px] text-faint">
            A layer hears any port, or one of these by name. A name stays when its cable is pulled.
          </p>
          <ul>
            {setup.ports.map((name) => (
              <li key={name} className="flex items-center justify-between gap-2">
                <span>
                  {name}
                  {here.includes(name) || STAND_INS.includes(name) ? (
                    ''
                  ) : (
                    <span className="text-alarm"> · missing now</span>
                  )}
                </span>
                <button
                  className="button px-2! py-0!"
                  onClick={() => set({ ports: setup.ports.filter((each) => each !== name) })}
                >
                  forget
                </button>
              </li>
            ))}
          </ul>
          {setup.ports.length < MOST_PORTS && (
            <select
              className="field mt-1"
              value=""
              aria-label="Tell another port apart"
              onChange={(event) => {
                if (event.target.value) set({ ports: [...setup.ports, event.target.value] });
              }}
            >
              <option value="">tell another port apart …</option>
              {[...here, ...STAND_INS]
                .filter((name) => !setup.ports.includes(name))
                .map((name) => (
                  <option key={name}>{name}</option>
                ))}
            </select>
          )}
        </section>
        <Range setup={setup} middleC={middleC} onRange={set} />
        <section aria-label="Takeover">
          <h3 className="heading">After a change of patch, a control that stands elsewhere</h3>
          <select
            className="field w-full"
            aria-label="Takeover"
            value={setup.takeover}
            onChange={(event) => set({ takeover: event.target.value as ControllerSetup['takeover'] })}
          >
            {(Object.keys(TAKEOVER) as ControllerSetup['takeover'][]).map((way) => (
              <option key={way} value={way}>
                {TAKEOVER[way]}
              </option>
            ))}
          </select>
        </section>
        <section aria-label="Pedals">
          <h3 className="heading">Pedals</h3>
          {setup.pedals.map((pedal) => (
            <p key={pedal.controller} className="flex items-center gap-2">
              <span className="flex-1">{labelOfSource(`cc.${pedal.controller}`)}</span>
              <label className="flex items-center gap-1">
                <input
                  type="checkbox"
                  checked={pedal.inverted}
                  onChange={(event) =>
                    set({
                      pedals: setup.pedals.map((each) =>
                        each === pedal ? { ...each, inverted: event.target.checked } : each,
                      ),
                    })
                  }
                />
                turned round
              </label>
              <select
                className="field"
                aria-label={`Kind of ${labelOfSource(`cc.${pedal.controller}`)}`}
                value={pedal.kind}
                onChange={(event) =>
                  set({
                    pedals: setup.pedals.map((each) =>
                      each === pedal ? { ...each, kind: event.target.value as typeof each.kind } : each,
                    ),
                  })
                }
              >
                <option value="switch">switch</option>
                <option value="continuous">continuous</option>
              </select>
              <button
                className="button-bare"
                aria-label="Forget this pedal"
                onClick={() => set({ pedals: setup.pedals.filter((each) => each !== pedal) })}
              >
                ×
              </button>
            </p>
          ))}
          <LearnPedal
            onPedal={(pedal) =>
              set({ pedals: [...setup.pedals.filter((each) => each.controller !== pedal.controller), pedal] })
            }
          />
        </section>
        <section aria-label="Expressive controllers">
          <h3 className="heading">Expressive controllers (MPE): fingers on channels of their own</h3>
          <div className="flex flex-wrap items-center gap-3">
            {(['lower', 'upper'] as const).map((zone) => (
              <label key={zone} className="flex items-center gap-1.5">
                {zone} zone
                <select
                  className="field"
                  value={setup.mpe[zone]}
                  onChange={(event) => set({ mpe: { ...setup.mpe, [zone]: Number(event.target.value) } })}
                >
                  <option value={0}>none</option>
                  {Array.from({ length: 15 }, (_, i) => (
                    <option key={i} value={i + 1}>
                      {i === 0 ? '1 member' : `${i + 1} members`}
                    </option>
                  ))}
                </select>
              </label>
            ))}
            <label className="flex items-center gap-1.5">
              bend of a finger
              <NumberField
                label="Semitones of a finger’s bend"
                value={setup.mpe.bendRange}
                low={0}
                high={96}
                onChange={(bendRange) => set({ mpe: { ...setup.mpe, bendRange } })}
              />
            </label>
          </div>
        </section>
        <section aria-label="Learned">
          <h3 className="heading">Learned controls</h3>
          {setup.bindings.length === 0 && (
            <p className="text-[12px] text-faint">None yet: “Learn …” on a macro or a pad.</p>
          )}
          <ul>
            {setup.bindings.map((binding) => (
              <li key={`${binding.control} ${binding.target}`} className="flex items-center justify-between gap-2">
                <span>
                  {labelOfControl(binding.control)}
                  {binding.channel ? `, channel ${binding.channel}` : ''} → {labelOfSource(binding.target)}
                </span>
                <button
                  className="button px-2! py-0!"
                  onClick={() => set({ bindings: setup.bindings.filter((each) => each !== binding) })}
                >
                  let go
                </button>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </SheetFrame>
  );
}

/** Ports of the stand-ins that ship with the product. */
const STAND_INS = ['Surface', 'Box', 'Pads', 'Pedals'];

/** The controller's real range: its lowest and highest key, its softest and hardest strike, played once. */
function Range({
  setup,
  middleC,
  onRange,
}: {
  setup: ControllerSetup;
  middleC: 3 | 4 | 5;
  onRange: (to: Partial<ControllerSetup>) => void;
}) {
  const [seen, setSeen] = useState<{ keys: number[]; velocities: number[] } | null>(null);
  const watching = seen !== null;
  useEffect(
    () =>
      watching
        ? session.hearing.watchRange((key, velocity) =>
            setSeen((old) => old && { keys: [...old.keys, key], velocities: [...old.velocities, velocity] }),
          )
        : undefined,
    [watching],
  );
  const done = () => {
    if (seen && seen.keys.length > 1)
      onRange({
        keyLow: Math.min(...seen.keys),
        keyHigh: Math.max(...seen.keys),
        velocityLow: Math.min(...seen.velocities),
        velocityHigh: Math.max(...seen.velocities),
      });
    setSeen(null);
  };
  return (
    <section aria-label="Range">
      <h3 className="heading">Its real range</h3>
      <p>
        Keys {nameOfKey(setup.keyLow, middleC)} ({setup.keyLow}) to {nameOfKey(setup.keyHigh, middleC)} ({setup.keyHigh}
        ), velocities {setup.velocityLow} to {setup.velocityHigh}.
      </p>
      {seen ? (
        <div className="flex items-center justify-between gap-2">
          <span>
            Play your lowest and highest key, softest and hardest.{' '}
            {seen.keys.length > 0
              ? `So far keys ${Math.min(...seen.keys)} to ${Math.max(...seen.keys)}, velocities ${Math.min(...seen.velocities)} to ${Math.max(...seen.velocities)}.`
              : ''}
          </span>
          <button className="button" onClick={done}>
            {seen.keys.length > 1 ? 'Take this range' : 'Leave it'}
          </button>
        </div>
      ) : (
        <button className="button" onClick={() => setSeen({ keys: [], velocities: [] })}>
          Learn it by playing …
        </button>
      )}
    </section>
  );
}

/**
 * A pedal is pressed and let go once: where it ends tells its polarity, how many values it sends whether it is a
 * switch.
 */
function LearnPedal({ onPedal }: { onPedal: (pedal: ControllerSetup['pedals'][number]) => void }) {
  const [waits, setWaits] = useState(false);
  const from = useRef(0);
  useRefresh(session.hearing.monitor);
  useEffect(() => {
    if (!waits) return undefined;
    const check = () => {
      const lines = session.hearing.monitor.lines
        .slice(from.current)
        .flatMap(({ message }) =>
          message?.type === 'controller' && [1, 2, 4, 7, 11, 64, 65, 66, 67, 69].includes(message.controller)
            ? [message]
            : [],
        );
      const last = lines[lines.length - 1];
      const same = lines.filter(({ controller }) => controller === last?.controller);
      const values = same.map(({ value }) => value);
      // Pressed and let go: it has been far away, and is back at one end.
      if (
        !last ||
        values.length < 2 ||
        Math.max(...values) - Math.min(...values) < 60 ||
        (last.value > 10 && last.value < 117)
      )
        return;
      onPedal({
        controller: last.controller,
        inverted: last.value >= 117,
        kind: new Set(values).size > 3 ? 'continuous' : 'switch',
      });
      setWaits(false);
    };
    return session.hearing.monitor.subscribe(check);
  }, [waits, onPedal]);
  return (
    <button
      className="button mt-1"
      aria-pressed={waits}
      onClick={() => {
        from.current = session.hearing.monitor.lines.length;
        setWaits(!waits);
      }}
    >
      {waits ? 'Press the pedal and let it go once …' : 'Learn a pedal …'}
    </button>
  );
}
