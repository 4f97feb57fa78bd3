import { labelOfControl, parseControl } from '../../core/music/control';
import type { Learned } from '../../core/music/learn';
import { addMacro, connectAll } from '../../core/rig/edits/moves';
import { updatePatch } from '../../core/rig/edits/layers';
import { labelOfTarget } from '../../core/rig/moves';
import { isBindable, type Binding, type Rig } from '../../core/rig/schema';
import { isAction } from '../../core/rig/bindings';
import { session } from '../sound/session';
import { edit, notice, store } from '../document/store';

const sourceOf = ({ control }: Learned): string | null => {
  const { kind, number } = parseControl(control)!;
  if (kind === 'cc' || kind === 'cc14') return `cc.${number}`;
  return kind === 'bend'
    ? 'bend'
    : kind === 'pressure'
      ? 'channelPressure'
      : kind === 'keyPressure'
        ? 'pressure'
        : null;
};

const bound = (rig: Rig, { control, channel, coding }: Learned, target: string): Rig => {
  const binding: Binding = { control, channel, port: 'any', coding, target };
  const others = rig.controllers.bindings.filter(
    (each) => each.target !== target && !(each.control === control && each.channel === channel),
  );
  return { ...rig, controllers: { ...rig.controllers, bindings: [...others, binding] } };
};

/** Waits for a control to be moved, and has it move the target from then on. */
export function learnTarget(patchId: string, target: string, label: string): void {
  const { dispatch } = store;
  dispatch(
    notice('info', `Learning ${label}: move a knob, a fader, a wheel, a pedal, a pad or a finger.`, 'learn', {
      label: 'Stop learning',
      run: () => session.hearing.endLearning(),
    }),
  );
  session.hearing.learn((learned) => {
    const name = `${labelOfControl(learned.control)}${learned.channel ? `, channel ${learned.channel}` : ''}`;
    const source = sourceOf(learned);
    if (isBindable(target)) {
      dispatch(edit((rig) => bound(rig, learned, target)));
      dispatch(
        notice('info', isAction(target) ? `${name}: ${label}.` : `${name} moves ${label}, in every patch.`, 'learn'),
      );
    } else if (source) {
      dispatch(edit((rig) => updatePatch(rig, patchId, (patch) => connectAll(patch, source, [target]))));
      dispatch(notice('info', `${name} moves ${label} by a third of its range; drag to change that.`, 'learn'));
    } else {
      // Buttons, NRPN and encoders are no sources: a macro stands between.
      let refused = false;
      dispatch(
        edit((rig) => {
          const patch = rig.patches.find((candidate) => candidate.id === patchId);
          const made = patch && addMacro(patch, labelOfTarget(patch, target));
          if (!made) {
            refused = true;
            return rig;
          }
          return bound(
            updatePatch(rig, patchId, () => connectAll(made.patch, `macro.${made.number}`, [target])),
            learned,
            `macro.${made.number}`,
          );
        }),
      );
      dispatch(
        notice(
          'info',
          refused
            ? `${name} was heard, but there is no macro left to put between it and ${label}.`
            : `${name} moves ${label} through a new macro.`,
          'learn',
        ),
      );
    }
  });
}

export const unbind = (target: string): void => {
  store.dispatch(
    edit((rig) => ({
      ...rig,
      controllers: {
        ...rig.controllers,
        bindings: rig.controllers.bindings.filter((binding) => binding.target !== target),
      },
    })),
  );
};
