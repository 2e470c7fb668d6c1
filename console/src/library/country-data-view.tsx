import type { CountryCoverage } from '@jade-fence/core/country';
import { lazy, Suspense, useState } from 'react';
import { sendFile } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { TextField } from '../frame/field.js';
import { FileField } from '../frame/file-field.js';
import { Command, ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { count } from '../marks/count.js';
import { nameOfCountry } from '../marks/country.js';

const DAY_MS = 86_400_000;
/** This many countries are listed at once. */
const ROWS = 14;
/** This many unreadable lines are shown. */
const FAULTS = 10;

/** The country data of the draft: where it is from, how old it is, and what it says about an address. */
export function CountryDataView() {
  const data = useFetched('GET /country-data');
  const none = data.data === null;
  const days = data.data && Math.floor((Date.now() - Date.parse(data.data.date)) / DAY_MS);
  return (
    <>
      <h2 className="mb-2 text-page font-semibold">Country data</h2>
      {data.error && <ErrorMessage error={data.error} />}
      {none && (
        <p className="mb-3">
          None is loaded, so that no country is known and country rules are blind. Load a file below, or by the client:
          <Command text="jade-fence country import demo/country-data.csv --date 2026-11-01" />
        </p>
      )}
      {data.data && (
        <p className="mb-3 text-head">
          {data.data.networks === 1 ? 'One network' : `${count(data.data.networks)} networks`} of{' '}
          <strong>{data.data.date}</strong> from {data.data.source}, {count(days ?? 0)} days old.
          {data.data.faultCount > 0 &&
            ` ${data.data.faultCount === 1 ? 'One line' : `${count(data.data.faultCount)} lines`} could not be read:`}
        </p>
      )}
      {data.data && data.data.faults.length > 0 && (
        <ul className="mb-3 text-soft" aria-label="Lines that could not be read">
          {data.data.faults.slice(0, FAULTS).map(({ line, reason }) => (
            <li key={line}>
              line {line}: {reason}
            </li>
          ))}
          {data.data.faultCount > FAULTS && <li>and {count(data.data.faultCount - FAULTS)} more</li>}
        </ul>
      )}
      <Ask />
      {data.data?.coverage && <Where countries={data.data.coverage.byCountry} />}
      <Load />
    </>
  );
}

const NetworksMap = lazy(() => import('./networks-map.js'));

/** The countries that have networks in the data: as a map, and as a table with the same figures. */
function Where({ countries }: { readonly countries: readonly CountryCoverage[] }) {
  const [search, setSearch] = useState('');
  const found = countries.filter(({ country }) =>
    `${country} ${nameOfCountry(country)}`.toLowerCase().includes(search.toLowerCase()),
  );
  return (
    <Part title="Where its networks are">
      <div className="grid grid-cols-1 max-w-5xl lg:grid-cols-[3fr_2fr] items-start gap-6">
        <Suspense fallback={<p className="text-soft">Loading the map …</p>}>
          <NetworksMap
            label="Map of the countries that have networks in the data; the table beside it has the same figures"
            amounts={new Map(countries.map((each) => [each.country, each.networks]))}
            unit="networks"
            onChoose={(code) => setSearch(code)}
          />
        </Suspense>
        <div>
          <TextField label="Search countries" value={search} onChange={setSearch} />
          <Table
            label="Networks by country"
            columns={['country', { title: 'networks', right: true }, { title: 'IPv4 addresses', right: true }]}
            empty="The data has no such country."
            rows={found.slice(0, ROWS).map(({ country, networks, addresses4 }) => ({
              key: country,
              cells: [`${nameOfCountry(country)} (${country})`, count(networks), count(addresses4)],
            }))}
          />
          {found.length > ROWS && (
            <p className="text-soft">and {count(found.length - ROWS)} more, to be searched for</p>
          )}
        </div>
      </div>
    </Part>
  );
}

function Ask() {
  const [address, setAddress] = useState('');
  const [asked, setAsked] = useState<string>();
  const shown = useFetched('GET /country-data/:address', asked !== undefined && { params: { address: asked } });
  return (
    <Part title="What it says about an address">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          setAsked(address.trim());
        }}
      >
        <TextField label="Address, then Enter" value={address} onChange={setAddress} placeholder="198.18.97.3" />
      </form>
      {shown.error && <ErrorMessage error={shown.error} />}
      {shown.data && (
        <p className="mt-1" aria-live="polite">
          <code className="font-mono">{shown.data.address}</code> is in{' '}
          <strong>
            {shown.data.name ?? shown.data.country} ({shown.data.country})
          </strong>
          {shown.data.network && `, by the network ${shown.data.network}`}{' '}
          {shown.data.by === 'correction'
            ? 'of a correction'
            : shown.data.by === 'data'
              ? 'of the data'
              : 'by neither data nor correction'}
          .
        </p>
      )}
    </Part>
  );
}

function Load() {
  const mayEdit = useMay('editor');
  const [day, setDay] = useState('');
  const load = useDeed((file: File) => {
    const query = { source: file.name.slice(0, 100), date: day.trim() || undefined };
    return sendFile('PUT /country-data', file, { query });
  });
  if (!mayEdit) return null;
  return (
    <Part title="Load other data">
      <TextField
        label="Day of the data; empty: the day that the file has, else today"
        value={day}
        onChange={setDay}
        placeholder="2026-11-01"
      />
      <FileField label="A file as CSV, as registries publish it, or MMDB" onChoose={(file) => load.mutate(file)} />
      {load.isPending && <p role="status">Loading …</p>}
      {load.error && <ErrorMessage error={load.error} />}
    </Part>
  );
}
