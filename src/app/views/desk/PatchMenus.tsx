import { EllipsisVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useRef, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { addPatch, deletePatch, duplicatePatch, freePatchName, renamePatch } from '../../../core/rig/edits/patches';
import type { Patch } from '../../../core/rig/schema';
import { edit, newId, told, useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { exportRig, importFile } from '../../jobs/files';
import { Chooser } from '../../parts/Chooser';
import { NameField, useRenaming } from '../../parts/NameField';
import { useView } from '../../parts/useView';
import { CHOOSE_PATCH, MORE_BUTTON, PATCH_BUTTON, type Pressed } from './patchButtons';

interface Props {
  patch: Patch;
  /** What stands on the button that leads to the other patches. */
  label: ReactNode;
  pressed: Pressed;
}

/** The patches of the rig, and what can be done with this one: two menus. */
export function PatchMenus({ patch, label, pressed }: Props) {
  const rig = useAppSelector((state) => state.rig.rig)!;
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const chooser = useRef<HTMLInputElement>(null);
  const renaming = useRenaming();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const view = useView();
  const go = (id: string) => void navigate(`/patch/${id}/${view}`);
  const rename = (name: string) => dispatch(edit((old) => renamePatch(old, patch.id, name)));
  if (renaming.renaming)
    return (
      <NameField
        label="Name of the patch"
        name={patch.name}
        className="w-44 text-[16px] font-bold"
        onName={rename}
        onEnd={renaming.end}
      />
    );
  return (
    <>
      <Chooser
        className={PATCH_BUTTON}
        title={CHOOSE_PATCH}
        now={patch.id}
        onChoose={go}
        onCloseAutoFocus={renaming.onCloseAutoFocus}
        choices={rig.patches.map(({ id, name }) => ({ id, name }))}
        label={label}
        opened={pressed === 'patches'}
      />
      <DropdownMenu.Root defaultOpen={pressed === 'more'}>
        <DropdownMenu.Trigger {...MORE_BUTTON}>
          <EllipsisVertical size={15} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="start"
            sideOffset={4}
            collisionPadding={8}
            className="panel max-h-[var(--radix-dropdown-menu-content-available-height)] min-w-60 overflow-y-auto p-1.5!"
            onCloseAutoFocus={renaming.onCloseAutoFocus}
          >
            <DropdownMenu.Item className="menu-item" onSelect={() => dispatch(deskSlice.actions.sheetOpened('start'))}>
              Start your own …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => dispatch(deskSlice.actions.sheetOpened('store'))}
            >
              Something from the store …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => dispatch(deskSlice.actions.sheetOpened('templates'))}
            >
              Templates, and what was kept …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => {
                const id = newId();
                dispatch(edit((old) => addPatch(old, id, freePatchName(old))));
                renaming.beginAfterMenu();
                go(id);
              }}
            >
              New patch
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => {
                const id = newId();
                dispatch(edit((old) => duplicatePatch(old, patch.id, id)));
                go(id);
              }}
            >
              Duplicate this patch
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" disabled={readOnly} onSelect={renaming.beginAfterMenu}>
              Rename this patch …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly}
              onSelect={() => {
                dispatch(edit((old) => deletePatch(old, patch.id)));
                dispatch(told(`The patch “${patch.name}” is gone.`));
              }}
            >
              Delete this patch
            </DropdownMenu.Item>
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            <DropdownMenu.Item
              className="menu-item"
              disabled={readOnly || patch.layers.length === 0}
              onSelect={() => dispatch(deskSlice.actions.sheetOpened('bounce'))}
            >
              Bounce to samples …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              onSelect={() => dispatch(deskSlice.actions.sheetOpened('handOver'))}
            >
              Hand over: takes, pages, archives …
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => void exportRig()}>
              Export the rig
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => chooser.current?.click()}>
              Import a rig or a MIDI file …
            </DropdownMenu.Item>
            <DropdownMenu.Item className="menu-item" onSelect={() => dispatch(deskSlice.actions.sheetOpened('rigs'))}>
              Rigs in this browser, earlier states …
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <input
        ref={chooser}
        type="file"
        accept=".wavicle,.zip,.mid,.midi"
        className="hidden"
        aria-label="File to import"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void importFile(file);
        }}
      />
    </>
  );
}
