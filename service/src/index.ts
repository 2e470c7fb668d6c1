export { type Upgraded, upgradeCluster } from './database/managed/upgrade.js';
export { completeOptions, defaultDataDir, keyFile, type ServeOptions } from './options.js';
export { type RunningService, serve } from './serve.js';
export { StartError } from './start-error.js';
export type { StartErrorCode } from './start-messages.js';
