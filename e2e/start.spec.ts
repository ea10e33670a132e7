import { expect, test } from '@playwright/test';

test('the application opens under its name', async ({ page }) => {
  await page.goto('/');
  await expect(page).toHaveTitle(/Yoke/);
});
