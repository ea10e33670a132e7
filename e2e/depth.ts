import type { Page } from '@playwright/test';

/** The picture in depth. */
export const inDepth = (page: Page) => page.getByRole('img', { name: /in depth: / });

/** Looks for a body, or a solid where solids are worked on, in depth with the pointer, from the middle outward; where it lies, px. */
export async function findBody(page: Page, name: string): Promise<{ x: number; y: number }> {
  const box = (await inDepth(page).boundingBox())!;
  const label = page.locator('.space .name');
  for (let ring = 0; ring < 24; ring++)
    for (let i = 0; i < Math.max(1, ring * 4); i++) {
      const angle = (2 * Math.PI * i) / Math.max(1, ring * 4);
      const at = { x: box.x + box.width / 2 + 9 * ring * Math.cos(angle), y: box.y + box.height / 2 + 9 * ring * Math.sin(angle) }; // prettier-ignore
      await page.mouse.move(at.x, at.y);
      const said = (await label.count()) > 0 ? ((await label.textContent()) ?? '').trim() : '';
      if (said === name || said.startsWith(`${name} (`)) return at;
    }
  throw new Error(`“${name}” is nowhere to be seen.`);
}

/** Drags from a place by so many pixels, step by step as a hand does. */
export async function dragBy(page: Page, at: { x: number; y: number }, dx: number, dy: number): Promise<void> {
  await page.mouse.move(at.x, at.y);
  await page.mouse.down();
  for (let i = 1; i <= 10; i++) await page.mouse.move(at.x + (dx * i) / 10, at.y + (dy * i) / 10);
  await page.mouse.up();
}
