/** What people may do, each all that the ones before may too. */
export const ROLES = ['viewer', 'editor', 'publisher', 'administrator'].map((value) => ({ value, label: value }));
