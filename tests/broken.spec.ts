import { expect, test } from './base';
import { openDemo } from './steps';

// Its console is not quiet: what breaks here says so there.
test('a view that breaks takes nothing with it, and comes back with the next step; a part whose line is gone comes when it is there', async ({
  page,
}) => {
  // The view of the mix throws; what the header's menus are made of cannot be fetched at first.
  await page.route(/\/MixView-[^/]*\.js$/, (route) =>
    route.fulfill({
      contentType: 'text/javascript',
      body: 'export const MixView = () => { throw new Error("made to break"); };',
    }),
  );
  let gone = 0;
  await page.route(/\/PatchMenus-[^/]*\.js$/, (route) => (gone++ < 2 ? route.abort() : route.continue()));
  await openDemo(page);
  await page.getByRole('button', { name: 'New patch, rig and files' }).click();
  await expect(page.getByRole('menuitem', { name: 'New patch', exact: true })).toBeVisible();
  expect(gone).toBe(3);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Mix' }).click();
  await expect(page.getByRole('alert')).toContainText('made to break');
  await page.goBack();
  await expect(page.getByTestId('keyboard')).toBeVisible();
  await expect(page.getByRole('alert')).toHaveCount(0);
});
