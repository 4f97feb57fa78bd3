import { EllipsisVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useRef, useState } from 'react';
import { readChain } from '../../../core/rig/edits/readChain';
import { putChain } from '../../../core/rig/edits/mix';
import { chainOf, nameOfPlace, type PlaceId } from '../../../core/rig/mix';
import type { EffectSpec, Patch } from '../../../core/rig/schema';
import { exportChain } from '../../jobs/files';
import { keepPart, listParts, type KeptPart } from '../../document/storage/database';
import { editPatch, newId, notice, useAppDispatch } from '../../document/store';

let copiedChain: readonly EffectSpec[] | null = null;

/** A chain of effects: copied, pasted, kept under a name or as a file, taken from what was kept. */
export function ChainMenu({ patch, place }: { patch: Patch; place: PlaceId }) {
  const dispatch = useAppDispatch();
  const [kept, setKept] = useState<KeptPart[]>([]);
  const chooser = useRef<HTMLInputElement>(null);
  const chain = chainOf(patch, place) ?? [];
  const put = (effects: readonly EffectSpec[]) => dispatch(editPatch(patch.id, (old) => putChain(old, place, effects)));
  const name = `${nameOfPlace(patch, place)}: chain`;
  return (
    <>
      <DropdownMenu.Root
        onOpenChange={(open) => {
          if (open)
            void listParts().then(
              (all) => setKept(all.filter((each) => each.kind === 'chain')),
              () => undefined,
            );
        }}
      >
        <DropdownMenu.Trigger
          className="button-bare h-5! min-w-5!"
          aria-label="More for this chain"
          title="Copy, paste, keep this chain"
        >
          <EllipsisVertical size={13} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className="panel max-h-[60vh] overflow-y-auto p-1.5!">
            <DropdownMenu.Item
              className="menu-item"
              disabled={chain.length === 0}
              onSelect={() => {
                copiedChain = chain;
              }}
            >
              Copy this chain
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={!copiedChain}
              onSelect={() => {
                if (copiedChain) put(copiedChain);
              }}
            >
              Paste in place of it
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={chain.length === 0}
              onSelect={() =>
                void keepPart({ id: newId(), name, kind: 'chain', at: Date.now(), chain }).then(
                  () => dispatch(notice('info', `Kept as “${name}”.`, 'kept')),
                  () => dispatch(notice('problem', 'This browser did not keep it.', 'kept')),
                )
              }
            >
              Keep as “{name.slice(0, 40)}”
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={chain.length === 0}
              onSelect={() => exportChain(name, chain)}
            >
              As a file
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => chooser.current?.click()}>
              From a file …
            </DropdownMenu.Item>
            {kept.length > 0 && <DropdownMenu.Separator className="my-1 h-px bg-line" />}
            {kept.map((each) => (
              <DropdownMenu.Item key={each.id} className="menu-item" onSelect={() => put(each.chain ?? [])}>
                Take “{each.name.slice(0, 40)}”
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <input
        ref={chooser}
        type="file"
        accept=".json,application/json"
        className="hidden"
        aria-label="A chain to take"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file)
            void file
              .text()
              .then((text) => put(readChain(text).effects))
              .catch((error: unknown) =>
                dispatch(
                  notice(
                    'problem',
                    `“${file.name}” was not taken: ${error instanceof Error ? error.message : String(error)}.`,
                  ),
                ),
              );
        }}
      />
    </>
  );
}
