import { needsLook, type RunItemFacts } from '../../bench/runs-api';

/** Pictures of a run that belong together, under a line that can be folded. */
export interface RunGroup {
  readonly key: 'look' | 'failed' | 'going' | 'rest';
  readonly title: string;
  readonly items: readonly RunItemFacts[];
}

/** The pictures that need somebody first, then those that go on, then the rest; groups without any are left out. */
export function groupsOf(items: readonly RunItemFacts[]): RunGroup[] {
  const kinds = {
    look: items.filter(needsLook),
    failed: items.filter(({ state }) => state === 'failed'),
    going: items.filter(({ state }) => state === 'working' || state === 'waiting'),
    rest: items.filter(
      (item) =>
        !needsLook(item) &&
        (['delivered', 'laid', 'skipped', 'cancelled'] as const).some((state) => state === item.state),
    ),
  };
  const groups: RunGroup[] = [
    { key: 'look', title: `To look at, ${kinds.look.length}`, items: kinds.look },
    { key: 'failed', title: `Failed, ${kinds.failed.length}`, items: kinds.failed },
    { key: 'going', title: `Not done yet, ${kinds.going.length}`, items: kinds.going },
    { key: 'rest', title: `Done, ${kinds.rest.length}`, items: kinds.rest },
  ];
  return groups.filter(({ items: some }) => some.length > 0);
}

export type RunRow =
  | { readonly kind: 'title'; readonly group: RunGroup; readonly folded: boolean }
  | { readonly kind: 'item'; readonly item: RunItemFacts };

/** The groups as rows of a table, without those that are folded away. */
export function rowsOf(groups: readonly RunGroup[], folded: ReadonlySet<RunGroup['key']>): RunRow[] {
  return groups.flatMap((group): RunRow[] => {
    const isFolded = folded.has(group.key);
    const title: RunRow = { kind: 'title', group, folded: isFolded };
    return isFolded ? [title] : [title, ...group.items.map((item): RunRow => ({ kind: 'item', item }))];
  });
}
