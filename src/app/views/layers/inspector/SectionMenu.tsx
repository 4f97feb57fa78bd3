import { EllipsisVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { putSection, sectionOf } from '../../../../core/rig/edits/carry';
import { type Section } from '../../../../core/rig/edits/clip';
import type { Layer, Patch } from '../../../../core/rig/schema';
import { keepPart, listParts, type KeptPart } from '../../../document/storage/database';
import { editPatch, newId, notice, useAppDispatch } from '../../../document/store';
import type { LayerPart } from '../layersSlice';
import { idsOfPart } from './parts';

let copiedSection: { part: LayerPart; section: Section } | null = null;

/**
 * The values of one part of a layer: copied, pasted, kept under a name, taken from what was kept, or back at their
 * defaults.
 */
export function SectionMenu({ patch, layer, part }: { patch: Patch; layer: Layer; part: LayerPart }) {
  const dispatch = useAppDispatch();
  const [kept, setKept] = useState<KeptPart[]>([]);
  const ids = idsOfPart(part).filter((id) => id !== 'transpose' && id !== 'touch');
  if (ids.length === 0) return null;
  const put = (section: Section) => dispatch(editPatch(patch.id, (old) => putSection(old, layer.id, ids, section)));
  const name = `${layer.name}: ${part}`;
  return (
    <DropdownMenu.Root
      onOpenChange={(open) => {
        if (open)
          void listParts().then(
            (all) => setKept(all.filter((each) => each.kind === 'section' && each.part === part)),
            () => undefined,
          );
      }}
    >
      <DropdownMenu.Trigger
        className="button-bare h-5! min-w-5!"
        aria-label={`More for ${part}`}
        title="Copy, paste, keep these values"
      >
        <EllipsisVertical size={13} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="panel max-h-[60vh] overflow-y-auto p-1.5!">
          <DropdownMenu.Item
            className="menu-item"
            onSelect={() => {
              copiedSection = { part, section: sectionOf(layer, ids) };
            }}
          >
            Copy these values
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className="menu-item"
            disabled={copiedSection?.part !== part}
            onSelect={() => {
              if (copiedSection) put(copiedSection.section);
            }}
          >
            Paste
          </DropdownMenu.Item>
          <DropdownMenu.Item className="menu-item" onSelect={() => put({})}>
            All as they come
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className="menu-item"
            onSelect={() =>
              void keepPart({
                id: newId(),
                name,
                kind: 'section',
                at: Date.now(),
                part,
                section: sectionOf(layer, ids),
              }).then(
                () => dispatch(notice('info', `Kept as “${name}”.`, 'kept')),
                () => dispatch(notice('problem', 'This browser did not keep it.', 'kept')),
              )
            }
          >
            Keep as “{name.slice(0, 40)}”
          </DropdownMenu.Item>
          {kept.length > 0 && <DropdownMenu.Separator className="my-1 h-px bg-line" />}
          {kept.map((each) => (
            <DropdownMenu.Item key={each.id} className="menu-item" onSelect={() => put(each.section ?? {})}>
              Take “{each.name.slice(0, 40)}”
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
