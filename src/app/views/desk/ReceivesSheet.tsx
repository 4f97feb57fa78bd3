import { useState } from 'react';
import { nameOfKey } from '../../../core/music/noteNames';
import { paramOf, windowOn } from '../../../core/rig/defaults';
import { updateLayer } from '../../../core/rig/edits/layers';
import type { Patch, Receive } from '../../../core/rig/schema';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { Mark } from '../../parts/Mark';
import { SheetFrame } from '../../parts/Sheet';
import { HEARS } from '../layers/inspector/HearsTab';

/** Who hears what: one row for each layer of the patch, or of all patches. */
export function ReceivesSheet({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const patches = useAppSelector((state) => state.rig.rig!.patches);
  const ports = useAppSelector((state) => state.rig.rig!.controllers.ports);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const [all, setAll] = useState(false);
  return (
    <SheetFrame title="Who hears what" wide="very">
      <div className="mb-2 flex gap-1.5">
        <button className="button" aria-pressed={!all} onClick={() => setAll(false)}>
          this patch
        </button>
        <button className="button" aria-pressed={all} onClick={() => setAll(true)}>
          all patches
        </button>
      </div>
      <div className="overflow-x-auto">
        <table className="w-full text-[12px]">
          <thead>
            <tr className="text-left text-faint">
              {['layer', 'port', 'ch.', 'keys', ...HEARS.map(([, label]) => label), 'bend range'].map((title) => (
                <th key={title} className="pr-2 font-normal whitespace-nowrap">
                  {title}
                </th>
              ))}
            </tr>
          </thead>
          {(all ? patches : [patch]).map((each) => (
            <tbody key={each.id}>
              {all && (
                <tr>
                  <th colSpan={12} className="pt-2 text-left font-bold">
                    {each.name}
                  </th>
                </tr>
              )}
              {each.layers.map((layer) => {
                const put = (receive: Partial<Receive>) =>
                  dispatch(
                    editPatch(each.id, (old) =>
                      updateLayer(old, layer.id, (one) => ({ ...one, receive: { ...one.receive, ...receive } })),
                    ),
                  );
                const keys = windowOn(layer, 'key')!;
                return (
                  <tr key={layer.id} className="border-t border-line">
                    <th scope="row" className="pr-2 text-left font-normal">
                      <span className="flex items-center gap-1.5">
                        <Mark mark={layer.mark} />
                        <span dir="auto" className="max-w-32 truncate">
                          {layer.name}
                        </span>
                      </span>
                    </th>
                    <td className="pr-2">
                      <select
                        className="field max-w-20"
                        aria-label={`Port of ${layer.name}`}
                        value={layer.receive.port}
                        onChange={(event) => put({ port: event.target.value })}
                      >
                        <option value="any">any</option>
                        {[...new Set([...ports, ...(layer.receive.port === 'any' ? [] : [layer.receive.port])])].map(
                          (name) => (
                            <option key={name}>{name}</option>
                          ),
                        )}
                      </select>
                    </td>
                    <td className="pr-2">
                      <select
                        className="field"
                        aria-label={`Channel of ${layer.name}`}
                        value={String(layer.receive.channel)}
                        onChange={(event) =>
                          put({ channel: event.target.value === 'any' ? 'any' : Number(event.target.value) })
                        }
                      >
                        <option value="any">any</option>
                        {Array.from({ length: 16 }, (_, i) => (
                          <option key={i} value={i + 1}>
                            {i + 1}
                          </option>
                        ))}
                      </select>
                    </td>
                    <td className="number pr-2 whitespace-nowrap">
                      {nameOfKey(keys.low, middleC)}–{nameOfKey(keys.high, middleC)}
                    </td>
                    {HEARS.map(([key, label, title]) => (
                      <td key={key} className="pr-2">
                        <button
                          className={`grid size-5 place-items-center rounded-[4px] border text-[12px] ${layer.receive[key] ? 'border-ink bg-ink text-paper' : 'border-edge text-faint'}`}
                          role="checkbox"
                          aria-checked={layer.receive[key]}
                          aria-label={`${layer.name} hears ${label}`}
                          title={title}
                          onClick={() => put({ [key]: !layer.receive[key] })}
                        >
                          {layer.receive[key] ? '✓' : ''}
                        </button>
                      </td>
                    ))}
                    <td className="number pr-2 text-right">
                      {layer.receive.bend ? `± ${Math.round(paramOf(layer, 'bendRange') * 100) / 100}` : '–'}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          ))}
        </table>
      </div>
    </SheetFrame>
  );
}
