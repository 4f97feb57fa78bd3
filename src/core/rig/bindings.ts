/**
 * Whether what a control is bound to is something that is done, and not a value: another step of the show, another
 * patch, silence.
 */
export const isAction = (target: string): boolean => target.startsWith('show.') || target.startsWith('patch.');
