import type { Page } from '../../core/cut/page';
import { KenosisError } from '../../core/errors';

/** Throws `bad-argument` where a file has no such page. */
export function assertPage(name: string, page: Page, pages: number): void {
  if (page.number <= pages) return;
  throw new KenosisError(
    'bad-argument',
    `page: "${name}" has ${pages === 1 ? '1 page' : `${pages} pages`}, not ${page.number}`,
  );
}
