import type { RangeFault } from '../address/index.js';
import type { Fault } from '../issue/index.js';
import type { TextPatternFault } from '../pattern/index.js';
import type { UrlFault } from '../url/index.js';

/** The fault of a text that is not an address, network or range. */
export function addressFault(text: string, fault: RangeFault): Fault {
  return fault.reason === 'host-bits'
    ? { code: 'host-bits', text, network: fault.network }
    : { code: 'bad-address', text, reason: fault.reason };
}

/** The fault of a text that is not a URL pattern. */
export function urlFault(text: string, fault: UrlFault): Fault {
  return { code: 'bad-url', text: cut(text), reason: 'detail' in fault ? fault.detail : fault.reason };
}

/** The fault of a text that is not a pattern of texts. */
/** Why a text is no host, and where it belongs instead. */
export function hostFault(text: string, reason: string): Fault {
  if (/^[a-z][a-z0-9+.-]*:\/\//i.test(text)) return { code: 'host-is-url', text };
  const port = /^([^:/]+):(\d{1,5})(?:\/.*)?$/.exec(text);
  if (port) return { code: 'host-with-port', text, host: port[1] as string, port: port[2] as string };
  if (/^[^/]+\//.test(text)) return { code: 'host-is-url', text };
  return { code: 'bad-host', text, reason };
}

/** The issue of an entry that is no pattern of texts. */
export function textFault(text: string, fault: TextPatternFault): Fault {
  return { code: 'bad-text', text: cut(text), reason: 'detail' in fault ? fault.detail : fault.reason };
}

const LONGEST_SHOWN = 80;

/** A text to show: its start, where it is long. */
const cut = (text: string): string => (text.length > LONGEST_SHOWN ? `${text.slice(0, LONGEST_SHOWN)}…` : text);
