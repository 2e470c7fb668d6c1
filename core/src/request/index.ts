export { type ClientFinding, type ClientHow, type ClientTrust, findClient } from './client.js';
export { packValues, unpackValues } from './header-values.js';
export { portOf } from './port.js';
export { makeRequest, type Request } from './request.js';
export { ADDRESS_FIELDS, NUMBER_FIELDS, TEXT_FIELDS, VALUE_FIELDS } from './schema.js';
export { OWN_FIELDS, textValues } from './text-values.js';
