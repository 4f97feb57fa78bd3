import { X } from 'lucide-react';
import { RULES, thresholdOf } from '../../../core/check';
import { setThreshold } from '../../../core/rig/edits/checks';
import type { Rig } from '../../../core/rig/schema';
import { TypedField } from '../../parts/TypedField';
import { edit, useAppDispatch } from '../../document/store';

/** What the rules go by, each with where it comes from; set for this rig, or given back to its rule. */
export function Thresholds({ rig, readOnly, onClose }: { rig: Rig; readOnly: boolean; onClose: () => void }) {
  const dispatch = useAppDispatch();
  return (
    <aside
      aria-label="Thresholds"
      className="flex min-h-0 flex-col gap-2 overflow-y-auto border-l border-line p-4 [scrollbar-width:thin]"
    >
      <div className="flex items-center justify-between">
        <h2 className="text-[15px] font-bold">Thresholds</h2>
        <button className="button-bare" aria-label="Close" onClick={onClose}>
          <X size={16} />
        </button>
      </div>
      <p className="text-[12px] text-faint">
        They hold for this rig, and travel with it. An empty field goes back to the rule’s own.
      </p>
      {RULES.flatMap((rule) =>
        Object.entries(rule.thresholds ?? {}).map(([id, threshold]) => {
          const value = thresholdOf(rig, rule, id);
          const own = rig.checks.thresholds[`${rule.id}.${id}`] !== undefined;
          return (
            <div key={`${rule.id}.${id}`} className="border-t border-line pt-1.5">
              <p className="text-[12.5px] font-bold">{rule.title}</p>
              <p className="mb-1 text-[12px] text-faint">
                {threshold.label}, in {threshold.unit}; {threshold.source}
              </p>
              <TypedField
                label={`${rule.title}: ${threshold.label}`}
                hideLabel
                text={String(value).replace('-', '−')}
                disabled={readOnly}
                commit={(typed) => {
                  const text = typed.trim().replace('−', '-').replace(',', '.');
                  if (text === '') {
                    dispatch(edit((old) => setThreshold(old, rule.id, id, null)));
                    return undefined;
                  }
                  const number = Number(text);
                  if (!Number.isFinite(number)) return `“${typed}” is no number`;
                  if (number < threshold.low || number > threshold.high)
                    return `from ${threshold.low} to ${threshold.high}`;
                  dispatch(edit((old) => setThreshold(old, rule.id, id, number)));
                  return undefined;
                }}
              />
              {own && !readOnly && (
                <button
                  className="text-[12px] underline"
                  onClick={() => dispatch(edit((old) => setThreshold(old, rule.id, id, null)))}
                >
                  back to {threshold.value}
                </button>
              )}
            </div>
          );
        }),
      )}
    </aside>
  );
}
