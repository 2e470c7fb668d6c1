import { lazy, Suspense } from 'react';
import { parse } from 'yaml';
import { nameOfCountry } from '../marks/country.js';

const NetworksMap = lazy(() => import('./networks-map.js'));

/** Where corrections put networks, on the map; and in words, which say the same. */
export function CorrectionsMap({ text }: { readonly text: string }) {
  const networks = networksOf(text);
  if (networks.length === 0) return null;
  const byCountry = new Map<string, string[]>();
  for (const [network, country] of networks) byCountry.set(country, [...(byCountry.get(country) ?? []), network]);
  return (
    <figure
      className="my-3 grid grid-cols-1 max-w-4xl lg:grid-cols-[3fr_2fr] items-start gap-6"
      aria-label="Where it puts networks"
    >
      <Suspense fallback={<p className="text-soft">Loading the map …</p>}>
        <NetworksMap
          label="Map of the countries that networks are put in; the text beside it says the same"
          amounts={new Map([...byCountry].map(([country, some]) => [country, some.length]))}
          unit="networks"
        />
      </Suspense>
      <dl>
        {[...byCountry].map(([country, some]) => (
          <div key={country} className="mb-1">
            <dt>
              {nameOfCountry(country)} ({country})
            </dt>
            <dd className="ml-4 font-mono text-soft">{some.join(', ')}</dd>
          </div>
        ))}
      </dl>
    </figure>
  );
}

function networksOf(text: string): [string, string][] {
  try {
    const { networks } = parse(text) as { networks?: Record<string, unknown> };
    return Object.entries(networks ?? {}).map(([network, country]) => [network, String(country)]);
  } catch {
    // Errors are shown beside the text.
    return [];
  }
}
