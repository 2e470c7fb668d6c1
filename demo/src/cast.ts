/** Who and what the demo's traffic is made of. All names, networks and people are made up. */

/** A weighted choice: the weights need not sum to anything. */
export type Weighted<T> = readonly (readonly [weight: number, value: T])[];

/** Networks that visitors of the ticket site come from: a base address and how many clients it has. */
export const VISITOR_NETWORKS: Weighted<{ readonly base: string; readonly clients: number }> = [
  [30, { base: '198.18.4.0', clients: 900 }],
  [9, { base: '198.18.22.0', clients: 400 }],
  [8, { base: '198.18.41.0', clients: 240 }],
  [9, { base: '198.18.66.0', clients: 300 }],
  [8, { base: '198.18.84.0', clients: 300 }],
  [6, { base: '198.18.113.0', clients: 250 }],
  [3, { base: '198.18.130.0', clients: 90 }],
  [4, { base: '198.18.146.0', clients: 120 }],
  [6, { base: '198.18.162.0', clients: 220 }],
  [2, { base: '198.18.178.0', clients: 60 }],
  [3, { base: '198.18.194.0', clients: 120 }],
  [3, { base: '198.18.210.0', clients: 110 }],
  [2, { base: '198.18.226.0', clients: 80 }],
  [3, { base: '198.19.12.0', clients: 140 }],
  [2, { base: '198.19.80.0', clients: 60 }],
  [1, { base: '198.19.200.0', clients: 40 }],
];

export const HARVESTERS = { base: '198.18.96.0', clients: 14 };
export const OFFICES = { base: '203.0.113.2', clients: 11 };
export const HOME_WORKERS = ['198.18.16.21', '198.18.40.77'] as const;
export const PROXIES = ['10.10.1.4', '10.10.1.5'] as const;
/** Clients that go past the proxies, with a forwarding header of their own making. */
export const FORGERS = { base: '198.19.7.40', clients: 5 };

export const VISITORS_WIRELESS = { base: '10.40.0.10', clients: 1800 };
export const TABLETS = { base: '10.40.8.1', clients: 24 };
export const STAFF = { base: '10.20.0.5', clients: 160 };
export const CONTROLLERS = { base: '10.60.3.1', clients: 30 };

/** The requests of a visitor of the ticket site: method, path, status, bytes. */
export interface Page {
  readonly method: string;
  readonly path: string;
  readonly status: number;
  readonly bytes: number;
}

const page = (method: string, path: string, status = 200, bytes = 9_000): Page => ({ method, path, status, bytes });

export const TICKET_PAGES: Weighted<Page> = [
  [22, page('GET', '/', 200, 14_210)],
  [14, page('GET', '/whats-on', 200, 22_480)],
  [11, page('GET', '/book?day=saturday', 200, 18_730)],
  [7, page('POST', '/book', 303, 412)],
  [6, page('GET', '/account/sign-in', 200, 6_120)],
  [4, page('POST', '/account/sign-in', 303, 380)],
  [1, page('POST', '/account/sign-in', 401, 5_210)],
  [10, page('GET', '/pictures/orchid-house.webp', 200, 84_300)],
  [8, page('GET', '/pictures/fern-gorge.webp', 200, 91_120)],
  [5, page('GET', '/calls/v2/slots?site=main', 200, 3_320)],
  [3, page('GET', '/calls/v1/slots?site=main', 200, 2_910)],
  [1, page('GET', '/calls/v0/slots', 410, 210)],
  [2, page('GET', '/robots.txt', 200, 160)],
  [2, page('GET', '/old-page', 404, 1_030)],
];

export const PRYING_PAGES: Weighted<Page> = [
  [4, page('GET', '/back-office', 302, 240)],
  [3, page('GET', '/back-office/orders', 302, 240)],
  [2, page('GET', '/%62ack-office/export', 302, 240)],
  [2, page('DELETE', '/account/sign-in', 405, 150)],
  [1, page('PUT', '/account/sign-in?next=/', 405, 150)],
];

export const HARVESTED_PAGES: Weighted<Page> = [
  [8, page('GET', '/whats-on?page=all', 200, 61_200)],
  [4, page('GET', '/calls/v2/slots?site=all', 200, 30_110)],
  [1, page('GET', '/robots.txt', 200, 160)],
];

/** Sites that the garden's own networks visit. `secure` ones show only their host name and address in the log. */
export interface Site {
  readonly host: string;
  readonly address: string;
  readonly secure: boolean;
}

const secure = (host: string, address: string): Site => ({ host, address, secure: true });
const plain = (host: string, address: string): Site => ({ host, address, secure: false });

export const VISITED_SITES: Weighted<Site> = [
  [16, secure('www.petalpress.example', '198.18.10.20')],
  [12, secure('mail.larchpost.example', '198.18.67.5')],
  [11, secure('pictures.mossgram.example', '198.18.113.40')],
  [10, secure('video.willowreel.example', '198.18.146.9')],
  [8, secure('www.fennelhill.example', '203.0.113.80')],
  [7, secure('www.visit-portugal.example', '198.51.100.201')],
  [6, plain('timetable.valleybus.example', '198.18.12.33')],
  [5, secure('maps.hedgerow.example', '198.18.163.14')],
  [4, plain('updates.glasswort.example', '198.18.227.3')],
  [3, secure('social.mossgram.example', '198.18.113.41')],
  [2, secure('files.boxelder.example', '2001:db8:3000::17')],
  [2, plain('files.boxelder.example', '2001:db8:3000::17')],
  [4, secure('one.adverts.example', '198.18.194.11')],
  [3, secure('two.adverts.example', '198.18.195.11')],
  [2, plain('pixel.counting.example', '198.18.97.60')],
  [1, plain('banner.petalpress.example', '198.18.10.21')],
  [2, secure('www.lucky-petal.example', '198.18.98.2')],
  [1, secure('play.spin-the-seed.example', '198.19.66.9')],
  [1, plain('odds.meadowbet.example', '198.18.179.8')],
];

export const TABLET_SITES: Weighted<Site> = [
  [12, secure('guide.fennelhill.example', '203.0.113.81')],
  [6, secure('www.fennelhill.example', '203.0.113.80')],
  [2, secure('video.willowreel.example', '198.18.146.9')],
];

export const CONTROLLER_SITES: Weighted<Site> = [
  [5, plain('readings.glasshouse.fennelhill.example', '10.60.1.2')],
  [1, secure('updates.vaporworks.example', '198.18.164.5')],
];

export const PLAIN_PAGES: Weighted<Page> = [
  [10, page('GET', '/', 200, 8_410)],
  [8, page('GET', '/today', 200, 5_300)],
  [5, page('GET', '/pictures/one.webp', 200, 44_120)],
  [2, page('POST', '/upload/holiday.zip', 201, 90)],
];

export const AGENTS: Weighted<string> = [
  [5, 'Meadowlark/12.1 (handheld)'],
  [4, 'Meadowlark/12.1 (desktop)'],
  [3, 'Thistle/8.0 (handheld)'],
  [2, 'Thistle/7.4 (desktop)'],
  [1, 'gardenapp/2.3'],
];

export const HARVESTER_AGENT = 'calendar-fetch/0.9';

/** How busy each hour of the day is, from midnight on. */
export const HOURS = [2, 1, 1, 1, 1, 2, 5, 11, 18, 26, 31, 33, 34, 36, 37, 35, 30, 25, 22, 20, 17, 12, 7, 4] as const;
