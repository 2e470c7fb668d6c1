export { type ClientFinding, type ClientHow, type ClientTrust, findClient } from './client.js';
export { portOf } from './port.js';
export { makeRequest, type Request } from './request.js';
export { textValues } from './text-values.js';
