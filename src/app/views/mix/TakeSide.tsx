import { NumberBox } from '../../parts/NumberBox';
import { useState } from 'react';
import { nameOfKey } from '../../../core/music/noteNames';
import { deleteTake, quantise, renameTake, repeatStretch, setLength } from '../../../core/rig/edits/takes';
import type { Note } from '../../../core/rig/takes';
import type { Part, Patch, PatchTake } from '../../../core/rig/schema';
import { exportTake } from '../../jobs/files';
import { Named, Part as Section, Row } from '../../parts/Part';
import { Strip } from '../../parts/Strip';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, told, useAppDispatch, useAppSelector } from '../../document/store';
import { mixSlice } from './mixSlice';

const GRIDS = ['1/4', '1/8', '1/8 triplet', '1/16', '1/16 triplet', '1/32'];
const VELOCITY = {
  id: 'velocity',
  label: 'velocity',
  unit: '',
  low: 1,
  high: 127,
  default: 90,
  law: 'steps',
  reach: 'patch',
  sides: 1,
  help: 'How hard the chosen notes are struck.',
} as const;

interface Props {
  patch: Patch;
  take: PatchTake;
  part: Part | undefined;
  /** Places of the notes that are chosen; none: what is done is done to all. */
  chosen: ReadonlySet<number>;
  grid: string;
  /** Quarters of the grid. */
  quarters: number;
  onGrid: (grid: string) => void;
  /** Edits the chosen notes. */
  onChosen: (edit: (note: Note) => Note | undefined, gesture?: string) => void;
  onChoose: (places: ReadonlySet<number>) => void;
}

/** What a take is, and what can be done to its notes. */
export function TakeSide({ patch, take, part, chosen, grid, quarters, onGrid, onChosen, onChoose }: Props) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const [share, setShare] = useState(100);
  const [stretch, setStretch] = useState<readonly [number, number]>([0, 4]);
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const notes = part?.notes ?? [];
  const velocity =
    chosen.size > 0
      ? Math.round([...chosen].reduce((sum, n) => sum + (notes[n]?.[3] ?? 0), 0) / chosen.size)
      : undefined;
  const one = chosen.size === 1 ? notes[[...chosen][0]] : undefined;
  return (
    <aside
      aria-label="The take"
      className="flex min-h-0 flex-col gap-2.5 overflow-y-auto border-l border-line p-3 text-[13px] [scrollbar-width:thin]"
    >
      <Named name={take.name} kind="take" onName={(name) => change((old) => renameTake(old, take.id, name))} />
      <p className="text-[12px] text-faint">
        Later is higher. Draw on empty ground; drag a note, or its end; Control and a box chooses, Delete takes away,
        arrows move (Shift: lengthen, octaves).
      </p>
      <Row label="bars">
        <NumberBox
          value={take.quarters / 4}
          low={1}
          high={256}
          onChange={(bars) => change((old) => setLength(old, take.id, bars * 4))}
        />
      </Row>
      <Row label="grid">
        <select className="field" value={grid} onChange={(event) => onGrid(event.target.value)}>
          {GRIDS.map((id) => (
            <option key={id}>{id}</option>
          ))}
        </select>
      </Row>
      <Section
        title={
          chosen.size === 0
            ? 'All notes'
            : one
              ? `${nameOfKey(one[2], middleC)}, velocity ${one[3]}`
              : `${chosen.size} notes`
        }
      >
        {velocity !== undefined && (
          <Strip
            parameter={VELOCITY}
            value={velocity}
            colour="var(--clay)"
            onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
            onChange={(value, gesture) =>
              onChosen((note) => [note[0], note[1], note[2], note[3] + value - velocity], gesture)
            }
          />
        )}
        <div className="flex flex-wrap gap-1">
          {(
            [
              ['−12', -12],
              ['−1', -1],
              ['+1', 1],
              ['+12', 12],
            ] as const
          ).map(([words, by]) => (
            <button
              key={words}
              className="button px-2! py-0.5!"
              title={`Transposes by ${by} semitones`}
              onClick={() => onChosen((note) => [note[0], note[1], note[2] + by, note[3]])}
            >
              {words}
            </button>
          ))}
          <button
            className="button px-2! py-0.5!"
            disabled={chosen.size === 0}
            onClick={() => {
              onChosen(() => undefined);
              onChoose(new Set());
            }}
          >
            delete
          </button>
        </div>
        <div className="flex items-center gap-1.5">
          <button
            className="button px-2! py-0.5!"
            onClick={() => {
              if (part) change((old) => quantise(old, take.id, part.id, chosen, quarters, share / 100));
            }}
          >
            quantise
          </button>
          <label className="flex items-center gap-1 text-[12px] text-faint">
            by
            <NumberBox value={share} low={0} high={100} className="w-16" onChange={setShare} />%
          </label>
        </div>
        <div className="flex items-center gap-1.5 whitespace-nowrap">
          <button
            className="button px-2! py-0.5!"
            title="What lies between is repeated to the end of the take"
            onClick={() => {
              if (part) change((old) => repeatStretch(old, take.id, part.id, stretch[0], stretch[1]));
            }}
          >
            repeat
          </button>
          <span className="text-[12px] text-faint">beats</span>
          {([0, 1] as const).map((n) => (
            <NumberBox
              key={n}
              label={n === 0 ? 'From beat' : 'To beat'}
              value={stretch[n] + 1}
              low={1}
              high={take.quarters + 1}
              className="w-14"
              onChange={(beat) => setStretch(n === 0 ? [beat - 1, stretch[1]] : [stretch[0], beat - 1])}
            />
          ))}
        </div>
      </Section>
      {part && part.moves.length > 0 && (
        <Section title="Moves">
          {[...new Set(part.moves.map(([, what]) => what))].map((what) => (
            <Row key={what} label={what}>
              <button
                className="button px-2! py-0! text-[11.5px]"
                onClick={() =>
                  change((old) => ({
                    ...old,
                    takes: old.takes.map((each) =>
                      each.id !== take.id
                        ? each
                        : {
                            ...each,
                            parts: each.parts.map((p) =>
                              p.id === part.id ? { ...p, moves: p.moves.filter(([, moved]) => moved !== what) } : p,
                            ),
                          },
                    ),
                  }))
                }
              >
                take away
              </button>
            </Row>
          ))}
        </Section>
      )}
      <div className="flex flex-wrap gap-1.5">
        <button className="button" onClick={() => exportTake(patch, take)}>
          As a MIDI file
        </button>
        <button
          className="button"
          onClick={() => {
            change((old) => deleteTake(old, take.id));
            dispatch(mixSlice.actions.mixAsSet('river'));
            dispatch(told(`The take “${take.name}” is gone.`));
          }}
        >
          Delete
        </button>
      </div>
    </aside>
  );
}
