import { geoNaturalEarth1, geoPath } from 'd3-geo';
import type { Feature, Geometry } from 'geojson';
import { numericToAlpha2 } from 'i18n-iso-countries';
import { feature } from 'topojson-client';
import type { GeometryCollection, Topology } from 'topojson-specification';
import atlas from 'world-atlas/countries-110m.json';

/** A country as it is drawn. */
export interface Shape {
  readonly code: string;
  readonly path: string;
}

export const WIDTH = 640;
export const HEIGHT = 312;

const topology = atlas as unknown as Topology<{ countries: GeometryCollection<{ name: string }> }>;
const path = geoPath(geoNaturalEarth1().fitSize([WIDTH, HEIGHT], { type: 'Sphere' }));

/** The countries of the world, of public-domain outlines at 1:110 million. */
export const WORLD: readonly Shape[] = feature(topology, topology.objects.countries).features.flatMap(
  (country: Feature<Geometry>) => {
    const code = numericToAlpha2(String(country.id ?? '').padStart(3, '0'));
    const drawn = path(country);
    return code === undefined || drawn === null ? [] : [{ code, path: drawn }];
  },
);
