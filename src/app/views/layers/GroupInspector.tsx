import { labelIn } from '../../../core/rig/moves';
import { X } from 'lucide-react';
import { fullWindow } from '../../../core/rig/defaults';
import { membersOf, moveToGroup, updateGroup } from '../../../core/rig/edits/groups';
import { GROUP_PARAMETERS, type GroupParameterId } from '../../../core/rig/parameters';
import type { Group, LayerWindow, Patch, Receive } from '../../../core/rig/schema';
import { ActMenu } from '../../parts/ActMenu';
import { colourOf, Mark } from '../../parts/Mark';
import { Part, Row } from '../../parts/Part';
import { TargetStrip } from '../../parts/TargetStrip';
import { editPatch, useAppDispatch } from '../../document/store';
import { choosingSlice } from '../../hands/choosingSlice';
import { HEARS } from './inspector/HearsTab';
import { WindowFields } from './WindowFields';

/**
 * Everything about the chosen group in numbers: what it adds to its members, windows on top of theirs, what they may
 * hear.
 */
export function GroupInspector({ patch, group }: { patch: Patch; group: Group }) {
  const dispatch = useAppDispatch();
  const change = (edit: (old: Group) => Group) =>
    dispatch(editPatch(patch.id, (old) => updateGroup(old, group.id, edit)));
  const put = (window: LayerWindow) =>
    change((old) => ({
      ...old,
      windows: old.windows.some(({ source }) => source === window.source)
        ? old.windows.map((each) => (each.source === window.source ? window : each))
        : [...old.windows, window],
    }));
  const receive = (part: Partial<Receive>) => change((old) => ({ ...old, receive: { ...old.receive, ...part } }));
  const free = [
    'key',
    'velocity',
    'cc.1',
    'cc.11',
    'channelPressure',
    ...patch.macros.map(({ number }) => `macro.${number}`),
  ].filter((source) => !group.windows.some((window) => window.source === source));
  return (
    <aside
      aria-label={`Group ${group.name} in numbers`}
      tabIndex={0}
      className="flex min-h-0 flex-col gap-2 overflow-y-auto border-l border-line p-3.5 pb-4 [scrollbar-gutter:stable] [scrollbar-width:thin]"
    >
      <h2 className="flex items-center gap-2 text-[15px] font-bold">
        <Mark mark={group.mark} />{' '}
        <span dir="auto" className="truncate">
          {group.name}
        </span>{' '}
        <span className="text-[12px] font-normal text-faint">group</span>
      </h2>
      <Part title="Added to its members">
        {(Object.keys(GROUP_PARAMETERS) as GroupParameterId[]).map((id) => (
          <TargetStrip key={id} patch={patch} target={`group.${group.id}.${id}`} colour={colourOf(group.mark)} />
        ))}
      </Part>
      {group.windows.map((window) => (
        <Part
          key={window.source}
          title={labelIn(patch, window.source)}
          action={
            <button
              className="button-bare"
              aria-label={`Remove the window on ${labelIn(patch, window.source)}`}
              onClick={() =>
                change((old) => ({ ...old, windows: old.windows.filter(({ source }) => source !== window.source) }))
              }
            >
              <X size={14} />
            </button>
          }
        >
          <WindowFields window={window} onChange={put} />
        </Part>
      ))}
      <ActMenu
        label="+ window on …"
        title="A window on top of those of its members"
        className="justify-between"
        items={free.map((source) => [source, labelIn(patch, source)] as const)}
        onChoose={(source) => put(fullWindow(source))}
      />
      <Part title="Hears at the most">
        <Row label="MIDI channel">
          <select
            className="field"
            value={String(group.receive.channel)}
            onChange={(event) =>
              receive({ channel: event.target.value === 'any' ? 'any' : Number(event.target.value) })
            }
          >
            <option value="any">as its members</option>
            {Array.from({ length: 16 }, (_, i) => (
              <option key={i} value={i + 1}>
                {i + 1}
              </option>
            ))}
          </select>
        </Row>
        <div className="flex flex-wrap gap-1">
          {HEARS.filter(([key]) => key !== 'program').map(([key, label, title]) => (
            <button
              key={key}
              title={title}
              className="button px-2! py-0.5! text-[12px]"
              aria-pressed={group.receive[key]}
              onClick={() => receive({ [key]: !group.receive[key] })}
            >
              {label}
            </button>
          ))}
        </div>
      </Part>
      <Part title="Members">
        <ul>
          {membersOf(patch, group.id).map((layer) => (
            <li key={layer.id} className="flex items-center gap-2">
              <Mark mark={layer.mark} />
              <button
                dir="auto"
                className="min-w-0 flex-1 truncate text-left"
                onClick={() => dispatch(choosingSlice.actions.layerSelected(layer.id))}
              >
                {layer.name}
              </button>
              <button
                className="button-bare"
                aria-label={`Take ${layer.name} out of the group`}
                onClick={() => dispatch(editPatch(patch.id, (old) => moveToGroup(old, layer.id, null)))}
              >
                <X size={13} />
              </button>
            </li>
          ))}
        </ul>
      </Part>
    </aside>
  );
}
