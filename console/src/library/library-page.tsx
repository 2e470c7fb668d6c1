import type { WorkspaceBody } from '@jade-fence/contract';
import type { ListSort } from '@jade-fence/core/list';
import { useState } from 'react';
import { Navigate, NavLink, useNavigate, useParams } from 'react-router';
import { useWorkspace } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { useTitle } from '../frame/title.js';
import { count } from '../marks/count.js';
import { CataloguePart, isCatalogued } from './catalogue-part.js';
import { CountryDataView } from './country-data-view.js';
import { entriesText } from './entries-text.js';
import { itemsOf, LibraryTable } from './library-table.js';
import { ListView } from './list-view.js';
import { NewObject } from './new-object.js';
import { ObjectView } from './object-view.js';
import { PasscodesView } from './passcodes-view.js';
import { ResolutionsView } from './resolutions-view.js';

/** What rules speak of. */
const KINDS = [
  { kind: 'list', label: 'Lists' },
  { kind: 'category', label: 'Categories' },
  { kind: 'application', label: 'Applications' },
  { kind: 'schedule', label: 'Schedules' },
  { kind: 'notice', label: 'Notices' },
  { kind: 'probe', label: 'Probes' },
  { kind: 'check', label: 'Checks' },
  { kind: 'corrections', label: 'Corrections' },
  { kind: 'countries', label: 'Country data' },
  { kind: 'resolutions', label: 'Resolutions' },
  { kind: 'passcodes', label: 'Passcodes' },
] as const;

/** How many there are of a kind; nothing for data, which is one. */
function Count({ of, workspace }: { readonly of: string; readonly workspace: WorkspaceBody }) {
  const many = itemsOf(of, workspace).length;
  return many === 0 ? null : <span className="text-soft tabular-nums">{count(many)}</span>;
}

/** Lists, catalogues, schedules and all else that rules speak of: chosen at the left, shown at the right. */
export default function LibraryPage() {
  const { kind = 'list', name } = useParams();
  const workspace = useWorkspace();
  useTitle(name === undefined ? (KINDS.find((each) => each.kind === kind)?.label ?? kind) : `${kind} ${name}`);
  const navigate = useNavigate();
  const mayEdit = useMay('editor');
  const [search, setSearch] = useState('');
  if (workspace.error && !workspace.data) return <ErrorMessage error={workspace.error} />;
  if (!KINDS.some((each) => each.kind === kind)) return <Navigate to="/library/list" replace />;
  if (!workspace.data) return <Waiting what="the library" />;
  const all = itemsOf(kind, workspace.data);
  const isData = kind === 'countries' || kind === 'resolutions' || kind === 'passcodes';
  const shown = all.filter((each) => `${each.name} ${each.detail}`.toLowerCase().includes(search.toLowerCase()));
  const label = KINDS.find((each) => each.kind === kind)?.label ?? kind;
  return (
    <main className="grid grid-cols-1 min-h-0 flex-1 max-lg:overflow-y-auto lg:grid-cols-[minmax(16rem,1fr)_minmax(28rem,3fr)]">
      <div className="min-h-0 overflow-auto border-r border-line bg-sheet">
        <h1 className="sr-only">Library: {label}</h1>
        <nav aria-label="Kinds" className="flex flex-wrap gap-0.5 border-b border-line px-3 py-2">
          {KINDS.map((each) => (
            <NavLink
              key={each.kind}
              to={`/library/${each.kind}`}
              className={`rounded-sm px-1.5 py-0.5 ${each.kind === kind ? 'bg-chosen font-semibold' : 'text-soft hover:text-ink'}`}
            >
              {each.label} <Count of={each.kind} workspace={workspace.data} />
            </NavLink>
          ))}
        </nav>
        {!isData && (
          <>
            <div className="flex items-end gap-2 px-3 py-2">
              <TextField label={`Search ${label.toLowerCase()}`} wide value={search} onChange={setSearch} />
              {mayEdit && <Button onClick={() => navigate(`/library/${kind}/+`)}>New</Button>}
            </div>
            <ul>
              {shown.map((each) => (
                <li key={each.name} className="border-t border-line/60">
                  <NavLink
                    to={`/library/${kind}/${each.name}`}
                    className={({ isActive }) => `block px-3 py-1 hover:bg-chosen ${isActive ? 'bg-chosen' : ''}`}
                  >
                    <span className="font-mono font-semibold">{each.name}</span>
                    <span className="block truncate text-soft" title={each.detail}>
                      {each.entries === undefined ? each.detail : entriesText(each.entries, each.detail as ListSort)}
                    </span>
                  </NavLink>
                </li>
              ))}
            </ul>
            {shown.length === 0 && (
              <p className="px-3 py-2 text-soft">
                {all.length === 0 ? `There are no ${label.toLowerCase()} yet.` : 'None is like that.'}
              </p>
            )}
          </>
        )}
      </div>
      <div className="min-h-0 overflow-auto px-4 py-3">
        {kind === 'countries' && <CountryDataView />}
        {kind === 'resolutions' && <ResolutionsView />}
        {kind === 'passcodes' && <PasscodesView />}
        {!isData && name === undefined && <LibraryTable {...{ kind, label }} items={shown} />}
        {isCatalogued(kind) && name === undefined && <CataloguePart {...{ kind, mayEdit }} />}
        {name === '+' && <NewObject key={kind} kind={kind} />}
        {kind === 'list' && name !== undefined && name !== '+' && <ListView key={name} name={name} />}
        {kind !== 'list' && !isData && name !== undefined && name !== '+' && (
          <ObjectView key={`${kind} ${name}`} kind={kind} name={name} />
        )}
      </div>
    </main>
  );
}
