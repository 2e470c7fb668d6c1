/** Where class-transformer keeps what its decorators say; its package has it, and no types for it at this place. */
declare module 'class-transformer/cjs/storage.js' {
  export { defaultMetadataStorage } from 'class-transformer/types/storage.js';
}
