import {
  AGENTS,
  CONTROLLER_SITES,
  CONTROLLERS,
  FORGERS,
  HARVESTED_PAGES,
  HARVESTER_AGENT,
  HARVESTERS,
  HOME_WORKERS,
  HOURS,
  OFFICES,
  type Page,
  PLAIN_PAGES,
  PROXIES,
  PRYING_PAGES,
  type Site,
  STAFF,
  TABLET_SITES,
  TABLETS,
  TICKET_PAGES,
  VISITED_SITES,
  VISITOR_NETWORKS,
  VISITORS_WIRELESS,
  type Weighted,
} from './cast.js';
import { Dice } from './dice.js';
import type { Entry } from './entry.js';

export interface TrafficOptions {
  /** How many entries. Default 5,000. */
  readonly requests: number;
  /** The same seed makes the same entries. Default 1759, the year in which the garden was laid out. */
  readonly seed: number;
  /** The first midnight, in milliseconds since 1970. Default 2026-11-09, a Monday. */
  readonly start: number;
  /** Default 7. */
  readonly days: number;
}

export const TRAFFIC_DEFAULTS: TrafficOptions = { requests: 5_000, seed: 1759, start: Date.UTC(2026, 10, 9), days: 7 };

const TICKETS = 'tickets.fennelhill.example';
const STAGING = 'staging.fennelhill.example';
const HERBARIUM = 'herbarium.fennelhill.example';
const HOUR = 3_600_000;

type Timeless = Omit<Entry, 'time'>;
type Scene = (dice: Dice) => Timeless;

const SCENES: Weighted<Scene> = [
  [
    470,
    (dice) => throughProxy(dice, TICKETS, clientIn(dice.choose(VISITOR_NETWORKS), dice), dice.choose(TICKET_PAGES)),
  ],
  [
    60,
    (dice) => throughProxy(dice, TICKETS, clientIn(HARVESTERS, dice), dice.choose(HARVESTED_PAGES), HARVESTER_AGENT),
  ],
  [12, (dice) => throughProxy(dice, TICKETS, clientIn(dice.choose(VISITOR_NETWORKS), dice), dice.choose(PRYING_PAGES))],
  [8, (dice) => throughProxy(dice, TICKETS, clientIn(OFFICES, dice), dice.choose(PRYING_PAGES))],
  [
    14,
    (dice) =>
      throughProxy(
        dice,
        STAGING,
        dice.below(3) ? clientIn(OFFICES, dice) : dice.pick(HOME_WORKERS),
        dice.choose(TICKET_PAGES),
      ),
  ],
  [6, (dice) => throughProxy(dice, STAGING, clientIn(dice.choose(VISITOR_NETWORKS), dice), dice.choose(TICKET_PAGES))],
  [4, forged],
  [30, (dice) => throughProxy(dice, HERBARIUM, clientIn(dice.choose(VISITOR_NETWORKS), dice), specimen(dice))],
  [330, (dice) => outbound(dice, clientIn(VISITORS_WIRELESS, dice), dice.choose(VISITED_SITES))],
  [36, (dice) => outbound(dice, clientIn(TABLETS, dice), dice.choose(TABLET_SITES))],
  [20, (dice) => outbound(dice, clientIn(STAFF, dice), dice.choose(VISITED_SITES))],
  [10, (dice) => outbound(dice, clientIn(CONTROLLERS, dice), dice.choose(CONTROLLER_SITES))],
];

/** Makes the entries of the demo's log, in order of time. */
export function* traffic(options: TrafficOptions): Generator<Entry> {
  const dice = new Dice(options.seed);
  const timeAt = clock(options.days);
  for (let index = 0; index < options.requests; index++) {
    const time = options.start + timeAt((index + dice.fraction()) / options.requests);
    yield { time, ...dice.choose(SCENES)(dice) };
  }
}

/** Spreads a share of the whole, from 0 to 1, over days that are busy by the hours of the garden. */
function clock(days: number): (share: number) => number {
  const day = HOURS.reduce((sum, weight) => sum + weight, 0);
  return (share) => {
    const [whole, rest] = [Math.floor(share * days), (share * days) % 1];
    let left = rest * day;
    for (const [hour, weight] of HOURS.entries()) {
      if (left < weight) return Math.floor((whole * 24 + hour + left / weight) * HOUR);
      left -= weight;
    }
    return (whole + 1) * 24 * HOUR - 1;
  };
}

function clientIn({ base, clients }: { readonly base: string; readonly clients: number }, dice: Dice): string {
  const parts = base.split('.').map(Number) as [number, number, number, number];
  const offset = parts[2] * 256 + parts[3] + 1 + dice.skewed(clients);
  return `${parts[0]}.${parts[1]}.${Math.floor(offset / 256)}.${offset % 256}`;
}

function throughProxy(dice: Dice, host: string, client: string, page: Page, agent = dice.choose(AGENTS)): Timeless {
  const base = { peer: dice.pick(PROXIES), forwardedFor: client, scheme: 'https', host, port: undefined, agent };
  return { ...base, destination: undefined, ...page, bytes: page.bytes + dice.below(400) };
}

/** Somebody who has found the origin's own address, and says to be one of the offices. */
function forged(dice: Dice): Timeless {
  const peer = clientIn(FORGERS, dice);
  return { ...throughProxy(dice, STAGING, '203.0.113.5', dice.choose(TICKET_PAGES)), peer };
}

function specimen(dice: Dice): Page {
  const path = `/specimens/${1000 + dice.below(900)}`;
  return { method: 'GET', path, status: dice.below(20) ? 200 : 404, bytes: 2_400 };
}

function outbound(dice: Dice, peer: string, site: Site): Timeless {
  const base = { peer, forwardedFor: undefined, host: site.host, destination: undefined };
  if (site.secure) {
    // Of tunnels the garden's proxy writes the name, and not where that was.
    const tunnel = { method: 'CONNECT', scheme: undefined, port: 443, path: undefined, agent: undefined };
    return { ...base, ...tunnel, status: 200, bytes: 900 + dice.below(60_000) };
  }
  const page = dice.choose(PLAIN_PAGES);
  return {
    ...base,
    ...page,
    destination: site.address,
    scheme: 'http',
    port: undefined,
    agent: dice.choose(AGENTS),
    bytes: page.bytes + dice.below(900),
  };
}
