/** What people may do, each all that the ones before it may too. */
export const ROLES = ['viewer', 'editor', 'publisher', 'administrator'] as const;
export type Role = (typeof ROLES)[number];

/** Whether a role may do what needs the other. */
export const mayAct = (role: Role, needed: Role): boolean => ROLES.indexOf(role) >= ROLES.indexOf(needed);

/** Of two roles the one that may do less. */
export const lesserRole = (a: Role, b: Role): Role => (mayAct(a, b) ? b : a);
