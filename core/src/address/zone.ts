/** An IPv6 address without the zone that some servers log behind it (`fe80::1%eth0`; RFC 4007, section 11). */
export const withoutZone = (text: string): string => (text.includes(':') ? text.replace(/%[\w.~-]+$/, '') : text);
