import { type CatalogueMerge, pathOf } from '@jade-fence/contract';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { Button } from '../frame/button.js';
import { FileField } from '../frame/file-field.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { count, counted } from '../marks/count.js';

/** The kinds that are brought and taken away as tables, and the calls of each. */
const CALLS = {
  category: ['GET /catalogue/category.csv', 'GET /catalogue/category.yaml', 'POST /catalogue/category'],
  application: ['GET /catalogue/application.csv', 'GET /catalogue/application.yaml', 'POST /catalogue/application'],
} as const;

export type Catalogued = keyof typeof CALLS;
export const isCatalogued = (kind: string): kind is Catalogued => kind in CALLS;

interface CataloguePartProps {
  readonly kind: Catalogued;
  readonly mayEdit: boolean;
}

/** A whole catalogue as a table: taken away, and brought from others, the one that is to be believed first. */
export function CataloguePart({ kind, mayEdit }: CataloguePartProps) {
  const [csv, yaml, merge] = CALLS[kind];
  const look = useDeed(async (files: readonly File[]) => {
    const sources = await Promise.all(files.map(async (file) => ({ name: file.name, csv: await file.text() })));
    return { sources, merged: await call(merge, { body: { sources, dryRun: true } }) };
  });
  const take = useDeed((sources: CatalogueMerge['sources']) => call(merge, { body: { sources } }));
  const shown = take.data ?? look.data?.merged;
  const changes = shown?.changes.filter(({ change }) => change !== 'unchanged') ?? [];
  const error = take.error ?? look.error;
  return (
    <Part
      title="As a table"
      acts={
        <>
          <a href={pathOf(csv)} download className="text-iris hover:underline">
            All as CSV
          </a>
          <a href={pathOf(yaml)} download className="text-iris hover:underline">
            All as YAML
          </a>
        </>
      }
    >
      {mayEdit && (
        <FileField
          label="Bring CSV files, the one that is to be believed first"
          many
          accept=".csv"
          onChoose={(_, all) => {
            take.reset();
            look.mutate(all);
          }}
        />
      )}
      {error && <ErrorMessage error={error} />}
      {shown && (
        <div role="status" className="mt-1">
          <p>
            {counted(shown.taken, 'row', 'rows')} taken or there already;{' '}
            {changes.length === 0
              ? 'nothing changes.'
              : `${counted(changes.length, 'object', 'objects')} ${shown.dryRun ? 'would change' : 'changed'}: ${changes.map(({ name }) => name).join(', ')}.`}
          </p>
          {shown.passedOverCount > 0 && (
            <p className="border-l-2 border-ochre bg-ochre-wash px-2 py-0.5">
              {count(shown.passedOverCount)} passed over, since what is believed before says otherwise, such as{' '}
              {shown.passedOver
                .slice(0, 3)
                .map(({ what, said, by, instead }) => `${what}: ${said} (${by}: ${instead})`)
                .join('; ')}
              .
            </p>
          )}
        </div>
      )}
      {look.data && !take.data && changes.length > 0 && (
        <Button disabled={take.isPending} onClick={() => take.mutate(look.data.sources)}>
          Take them into the draft
        </Button>
      )}
    </Part>
  );
}
