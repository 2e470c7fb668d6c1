export { type ClientFinding, type ClientHow, type ClientTrust, findClient } from './client.js';
export { makeRequest, type Request } from './request.js';
