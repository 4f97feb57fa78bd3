import { textScale } from '../../parts/textScale';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react';
import { naturalCompare } from '../../../core/mapping/naturalOrder';
import { updateZones } from '../../../core/rig/edits/zones';
import type { Sound, Zone } from '../../../core/rig/schema';
import { changeField, zoneField, type ZoneField } from '../../../core/rig/zoneFields';
import { TypedField } from '../../parts/TypedField';
import { soundsSlice } from './soundsSlice';
import { editSound, useAppDispatch, useAppSelector } from '../../document/store';
import { fieldText, outOfRange, parseField, type TextContext } from './zoneText';

const COLUMNS = [
  'root',
  'key.low',
  'key.high',
  'velocity.low',
  'velocity.high',
  'alternate',
  'gain',
  'tune',
  'pan',
].map(zoneField);
const HEADS: Record<string, string> = {
  'key.low': 'from',
  'key.high': 'to',
  'velocity.low': 'vel from',
  'velocity.high': 'vel to',
  alternate: 'alt.',
};
const GRID = 'grid grid-cols-[minmax(110px,1fr)_48px_48px_48px_54px_50px_40px_68px_60px_66px_82px] items-center';
const rowHeight = (): number => 26 * textScale();

type Sort = { by: string; up: boolean };

/**
 * The zones of a sound as a table, one choice with the map: sorted by any column, edited where it is chosen, and as
 * long as it needs to be.
 */
export function ZoneTable({ sound, sampleName }: { sound: Sound; sampleName: (id: string) => string }) {
  const dispatch = useAppDispatch();
  const selected = useAppSelector((state) => state.sounds.selected);
  const leader = useAppSelector((state) => state.sounds.leader);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const [sort, setSort] = useState<Sort>({ by: 'key.low', up: true });
  const scroller = useRef<HTMLDivElement>(null);
  const anchor = useRef<number | null>(null);
  const chosen = useMemo(() => new Set(selected), [selected]);
  const context: TextContext = { middleC, frameUnit: 'frames', rate: 1, frames: 1 };
  const order = useMemo(() => {
    const places = sound.zones.map((_, i) => i);
    const value = (zone: Zone) => COLUMNS.find((column) => column.id === sort.by)?.get(zone) ?? -1;
    const compare =
      sort.by === 'sample'
        ? (a: number, b: number) =>
            naturalCompare(sampleName(sound.zones[a].sampleId), sampleName(sound.zones[b].sampleId))
        : sort.by === 'playback'
          ? (a: number, b: number) => sound.zones[a].playback.localeCompare(sound.zones[b].playback)
          : (a: number, b: number) =>
              value(sound.zones[a]) - value(sound.zones[b]) ||
              sound.zones[a].key.low - sound.zones[b].key.low ||
              sound.zones[a].velocity.low - sound.zones[b].velocity.low ||
              (sound.zones[a].alternate ?? 0) - (sound.zones[b].alternate ?? 0);
    places.sort((a, b) => (sort.up ? 1 : -1) * compare(a, b) || a - b);
    return places;
  }, [sound, sort, sampleName]);
  const rows = useVirtualizer({
    count: order.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight(),
    overscan: 8,
  });
  const leaderRow = leader === null ? -1 : order.indexOf(leader);
  useEffect(() => {
    if (leaderRow >= 0) rows.scrollToIndex(leaderRow, { align: 'auto' });
  }, [leaderRow, rows]);

  const choose = (row: number, event: MouseEvent | KeyboardEvent) => {
    const place = order[row];
    if (event.shiftKey && anchor.current !== null) {
      const [from, to] = [Math.min(anchor.current, row), Math.max(anchor.current, row)];
      dispatch(
        soundsSlice.actions.zonesChosen([place, ...order.slice(from, to + 1).filter((other) => other !== place)]),
      );
      return;
    }
    anchor.current = row;
    if (event.ctrlKey || event.metaKey) dispatch(soundsSlice.actions.zoneToggled(place));
    else dispatch(soundsSlice.actions.zonesChosen([place]));
  };
  const keys = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by === 0 || order.length === 0) return;
    event.preventDefault();
    event.stopPropagation();
    choose(Math.min(order.length - 1, Math.max(0, (leaderRow < 0 ? (by > 0 ? -1 : 1) : leaderRow) + by)), event);
  };
  const head = (id: string, label: string, left = false) => (
    <span key={id} role="columnheader" aria-sort={sort.by === id ? (sort.up ? 'ascending' : 'descending') : 'none'}>
      <button
        className={`flex h-6 w-full items-center gap-0.5 px-1 ${left ? '' : 'justify-end'}`}
        title="Sorts the table by this column; once more, the other way round"
        onClick={() => setSort((old) => ({ by: id, up: old.by === id ? !old.up : true }))}
      >
        {label}
        {sort.by === id && (sort.up ? <ArrowUp size={11} aria-hidden /> : <ArrowDown size={11} aria-hidden />)}
      </button>
    </span>
  );

  return (
    <div
      role="table"
      aria-label="Zones"
      aria-rowcount={order.length + 1}
      className="flex min-h-0 flex-col overflow-x-auto text-[12px]"
    >
      <div role="row" className={`${GRID} min-w-[690px] border-b border-line pr-2 text-faint`}>
        {head('sample', 'sample', true)}
        {COLUMNS.map((column) => head(column.id, HEADS[column.id] ?? column.label))}
        {head('playback', 'plays', true)}
      </div>
      <div
        ref={scroller}
        tabIndex={0}
        aria-label="Zones: arrow keys choose, Shift chooses up to there"
        role="rowgroup"
        className="min-h-0 min-w-[690px] flex-1 overflow-y-auto [scrollbar-width:thin]"
        onKeyDown={keys}
      >
        <div role="presentation" className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const place = order[index];
            const zone = sound.zones[place];
            const isChosen = chosen.has(place);
            return (
              <div
                key={place}
                role="row"
                aria-rowindex={index + 2}
                aria-selected={isChosen}
                className={`${GRID} absolute inset-x-0 border-b border-line/60 ${isChosen ? 'bg-ink/10' : 'hover:bg-ink/5'} ${place === leader ? 'font-semibold' : ''}`}
                style={{ height: rowHeight(), transform: `translateY(${start}px)` }}
                onClick={(event) => {
                  if (!(event.target as HTMLElement).closest('input')) choose(index, event);
                }}
              >
                <span role="cell" className="truncate px-1" title={sampleName(zone.sampleId)}>
                  {sampleName(zone.sampleId)}
                </span>
                {COLUMNS.map((column) =>
                  isChosen ? (
                    <span key={column.id} role="cell" className="cell-field">
                      <CellField sound={sound} place={place} field={column} context={context} />
                    </span>
                  ) : (
                    <span key={column.id} role="cell" className="number truncate px-1 text-right">
                      {fieldText(column, column.get(zone), context)}
                    </span>
                  ),
                )}
                <span role="cell" className={`truncate px-2 ${isChosen ? '' : 'text-faint'}`}>
                  {zone.trigger === 'release'
                    ? 'on release'
                    : zone.playback === 'full-length'
                      ? 'full length'
                      : zone.loop
                        ? 'looped'
                        : 'while held'}
                  {zone.reverse ? ', reversed' : ''}
                </span>
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

function CellField({
  sound,
  place,
  field,
  context,
}: {
  sound: Sound;
  place: number;
  field: ZoneField;
  context: TextContext;
}) {
  const dispatch = useAppDispatch();
  const value = field.get(sound.zones[place]);
  const put = (next: number | undefined) =>
    dispatch(
      editSound(sound.id, (old) => updateZones(old, new Set([place]), (zone) => changeField(zone, field, 'set', next))),
    );
  return (
    <TypedField
      hideLabel
      label={`${field.label} of zone ${place + 1}`}
      text={fieldText(field, value, context)}
      step={(by) => put((value ?? 0) + by)}
      commit={(typed) => {
        const read = parseField(field, typed, context, 'set');
        if (Number.isNaN(read)) return field.unit === 'key' ? 'a key such as E3 or 54' : 'a number';
        const wanted = outOfRange(field, read, context);
        if (wanted) return wanted;
        put(read);
        return undefined;
      }}
    />
  );
}
