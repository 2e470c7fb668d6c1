import type { WorkspaceBody } from '@jade-fence/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { Choice } from '../frame/choice.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';

/** One object of the library, as its table shows it. */
export interface Item {
  readonly name: string;
  /** What it is; of a list the sort of its entries. */
  readonly detail: string;
  /** How many entries it has; undefined for what has none. */
  readonly entries: number | undefined;
  /** How many policies, applications and checks use it. */
  readonly users: number;
  readonly changedAt: string;
  readonly changedBy: string | null;
}

/** The objects of a kind. */
export const itemsOf = (kind: string, { lists, objects }: WorkspaceBody): Item[] =>
  kind === 'list'
    ? lists.map(({ list, of, entries, usedBy, ...changed }) => ({
        ...changed,
        ...{ name: list, detail: of, entries, users: usedBy.length },
      }))
    : objects
        .filter((each) => each.kind === kind)
        .map(({ name, note, sentence, users, ...changed }) => ({
          ...{ changedAt: changed.changedAt, changedBy: changed.changedBy },
          ...{ name, detail: note ?? sentence, entries: undefined, users },
        }));

const ORDERS = [
  { value: 'name', label: 'name' },
  { value: 'changed', label: 'newest change' },
  { value: 'users', label: 'most used' },
  { value: 'unused', label: 'least used' },
  { value: 'entries', label: 'most entries' },
];

const COMPARE: Readonly<Record<string, (a: Item, b: Item) => number>> = {
  name: (a, b) => a.name.localeCompare(b.name),
  changed: (a, b) => b.changedAt.localeCompare(a.changedAt),
  users: (a, b) => b.users - a.users,
  unused: (a, b) => a.users - b.users,
  entries: (a, b) => (b.entries ?? 0) - (a.entries ?? 0),
};

interface LibraryTableProps {
  readonly kind: string;
  readonly label: string;
  readonly items: readonly Item[];
}

/** All objects of a kind, in an order that one chooses. */
export function LibraryTable({ kind, label, items }: LibraryTableProps) {
  const [order, setOrder] = useState('name');
  const isListed = kind === 'list';
  const sorted = items.toSorted((a, b) => COMPARE[order]?.(a, b) || a.name.localeCompare(b.name));
  return (
    <>
      <div className="mb-2 flex flex-wrap items-baseline gap-4">
        <h2 className="text-page font-semibold">{label}</h2>
        <Choice
          label="By"
          value={order}
          options={ORDERS.filter(({ value }) => isListed || value !== 'entries')}
          onChange={setOrder}
        />
      </div>
      <Table
        label={label}
        empty={`There are no ${label.toLowerCase()} yet.`}
        columns={[
          'name',
          isListed ? 'of' : 'what it is',
          ...(isListed ? [{ title: 'entries', right: true } as const] : []),
          { title: 'used by', right: true },
          'changed',
          'by',
        ]}
        rows={sorted.map(({ name, detail, entries, users, changedAt, changedBy }) => ({
          key: name,
          cells: [
            <Link key="n" to={`/library/${kind}/${name}`} className="font-mono text-iris hover:underline">
              {name}
            </Link>,
            detail,
            ...(isListed ? [count(entries ?? 0)] : []),
            users === 0 ? <span className="text-soft">nothing</span> : count(users),
            <span key="c" className="whitespace-nowrap">
              {clock(changedAt).slice(0, 16)}
            </span>,
            changedBy ?? '–',
          ],
        }))}
      />
    </>
  );
}
