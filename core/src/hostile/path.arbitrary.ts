import fc from 'fast-check';

/** Pieces of paths in every spelling of a letter, a dot, a slash and what divides a URL. */
const PIECES = [
  ...[
    '/',
    '//',
    '\\',
    '/\\',
    '%2f',
    '%2F',
    '%5c',
    '%252f',
    '/./',
    '/../',
    '/.',
    '/..',
    '..',
    '.',
    '%2e',
    '%2E',
    '.%2e',
  ],
  ...['%2%65', '%252e', '%%32%65', '%c0%ae', '%e0%80%ae', '%u002e', '..;', ';x', ';x=1/', ';', '..;/', '/;/', '%3b'],
  ...[
    'admin',
    'ADMIN',
    '%61dmin',
    'adm%69n',
    '@x',
    '%40x',
    'x',
    'y',
    'ü',
    '%c3%bc',
    '%C3',
    '%ff',
    '%00',
    '%0a',
    '\t',
    ' ',
  ],
  ...['%20', '+', '*', '~', '%', '%2', '%3f', '%23', '%25', ':', '@', 'http://b.example/'],
];

/** The path of a request as it is sent, without its query. */
export const pathAsSent: fc.Arbitrary<string> = fc
  .array(fc.constantFrom(...PIECES), { maxLength: 7 })
  .map((pieces) => `/${pieces.join('')}`);

/** An absolute URL as it is sent, with what parsers read differently. */
export const urlAsSent: fc.Arbitrary<string> = fc
  .tuple(
    fc.constantFrom(
      'http://',
      'HTTPS://',
      'http:\\\\',
      'http:/',
      'http:',
      'ws://',
      ' http://',
      'ht\ttp://',
      'ftp://',
      'foo://',
    ),
    fc.constantFrom('', 'user@', 'a.example@', 'a.example\\@', 'a.example/@', 'u:p@', '@', 'a%40'),
    fc.constantFrom(
      'b.example',
      'B.example',
      'b.example.',
      'b\t.example',
      '[2001:db8::1]',
      '0x7f.1',
      '198.18.0.1',
      'ｂ.example',
      'b%2eexample',
      '',
    ),
    fc.constantFrom('', ':80', ':443', ':8080', ':', ':99999'),
    fc.oneof(pathAsSent, fc.constantFrom('', '?q=1', '#f', '?q#f', '\\x')),
  )
  .map((parts) => parts.join(''));
