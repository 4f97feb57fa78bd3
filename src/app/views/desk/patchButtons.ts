/** Which of the patch's two menus was pressed before they were there: it opens as soon as it is. */
export type Pressed = 'patches' | 'more' | null;

/** The buttons of the patch's menus look the same before the menus are there. */
export const PATCH_BUTTON =
  'flex max-w-[300px] min-w-[122px] items-center gap-1 rounded-md px-2 py-1 hover:bg-sheet max-[1000px]:px-1';
export const CHOOSE_PATCH = 'Choose another patch';
export const MORE_BUTTON = {
  className: 'button-bare -ml-2 shrink-0',
  'aria-label': 'New patch, rig and files',
  title: 'New patches, this patch, files and rigs',
};
export const ABOUT_BUTTON = {
  className: 'button px-1.5! py-0! text-[12px]',
  'aria-label': 'About the versions',
  title: 'Names, loudness, what differs',
};
