import { expect, type Locator, type Page } from '@playwright/test';
import { emptyBoard } from './helpers';

/**
 * A hand that counts what it does: every press, every drag, every value typed into a field (pressing it and typing are
 * two), every choice in a drop-down (opening and choosing are two), every key.
 */
export class Hand {
  actions = 0;

  constructor(
    readonly page: Page,
    private readonly board: Awaited<ReturnType<typeof emptyBoard>> | null = null,
  ) {}

  /** A hand at an empty board. */
  static async atBoard(page: Page, name: string): Promise<Hand & { id: string }> {
    const board = await emptyBoard(page, name);
    // Opening the machine and its board.
    return Object.assign(new Hand(page, board), { id: board.id, actions: 2 });
  }

  async press(target: Locator, more: Parameters<Locator['click']>[0] = {}): Promise<void> {
    this.actions++;
    await target.click(more);
  }
  button(name: string | RegExp): Promise<void> {
    return this.press(this.page.getByRole('button', { name, exact: typeof name === 'string' }).first());
  }
  stage(name: string): Promise<void> {
    return this.press(
      this.page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: new RegExp(`^${name}\\b`) }),
    );
  }
  async type(field: string | Locator, text: string): Promise<void> {
    this.actions += 2;
    const box = typeof field === 'string' ? this.page.getByLabel(field, { exact: true }).first() : field;
    await box.fill(text);
    await box.press('Enter');
  }
  async choose(label: string, entry: string): Promise<void> {
    this.actions += 2;
    const box = this.page.getByRole('combobox', { name: label, exact: true }).first();
    const list = this.page.getByRole('listbox', { name: label, exact: true }).last();
    // What stands above may still be growing while a run comes in, so that a press lands beside: one looks, and presses again.
    await expect(async () => {
      if ((await box.getAttribute('aria-expanded')) !== 'true') await box.click({ force: true });
      await list.getByRole('option', { name: entry }).first().click({ timeout: 5000 });
    }).toPass();
  }
  async toggle(label: string): Promise<void> {
    this.actions++;
    await this.page.locator('.toggle').filter({ hasText: label }).locator('.el-switch').first().click();
  }
  async key(name: string): Promise<void> {
    this.actions++;
    await this.page.keyboard.press(name);
  }
  tool(name: string): Promise<void> {
    this.actions++;
    return this.board!.tool(name);
  }
  drag(from: [number, number], to: [number, number]): Promise<void> {
    this.actions++;
    return this.board!.drag(from, to);
  }
  click(x: number, y: number): Promise<void> {
    this.actions++;
    return this.board!.click(x, y);
  }
  /** Chooses something in the list of what is drawn. */
  listed(name: string | RegExp, more: Parameters<Locator['click']>[0] = {}): Promise<void> {
    const list = this.page.getByLabel('On the board');
    return this.press(
      list.getByRole('button', typeof name === 'string' ? { name, exact: true } : { name }).first(),
      more,
    );
  }
  /** Says how many actions it took, and that these are no more than they may be. */
  async done(what: string, most: number): Promise<void> {
    console.log(`${what}: ${this.actions} actions of ${most}`);
    expect(this.actions).toBeLessThanOrEqual(most);
  }
}
