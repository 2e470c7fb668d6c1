import fc from 'fast-check';

const NODES = [
  ...[
    '10.10.1.4',
    '10.10.1.9',
    '10.40.7.8',
    '198.18.0.1',
    '203.0.113.7',
    '[2001:db8:40::7]',
    '2001:db8:40::7',
    '10.40.7.8:443',
  ],
  ...[
    '"10.40.7.8:443"',
    '"[2001:db8:10::1]:80"',
    'unknown',
    '_id',
    '',
    ' ',
    '010.1.1.1',
    '999.1.1.1',
    'fe80::1%eth0',
    '"',
    '\\"',
    '"\\',
  ],
  ...['::ffff:10.10.1.4', '10.10.1.4;', 'nonsense', '-', '\0', '"a,b"', '10.10.1.4"'],
];

/** What a client or a proxy writes into a forwarding header, quotes that do not close among it. */
export const forwardingText: fc.Arbitrary<string> = fc
  .array(
    fc
      .tuple(
        fc.constantFrom('', 'for=', 'For=', 'by=', 'for=";', 'proto=http;for=', ';for='),
        fc.constantFrom(...NODES),
      )
      .map(([name, node]) => name + node),
    { maxLength: 5 },
  )
  .chain((elements) => fc.constantFrom(', ', ',', ' ,, ', ';').map((separator) => elements.join(separator)));
