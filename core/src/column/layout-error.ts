/** A table that cannot be read back: damaged, cut off, or of a later version. */
export class LayoutError extends Error {}
