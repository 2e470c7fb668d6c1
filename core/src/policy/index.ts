export { type Covered, checkCovers, coveredClients, coveredHosts } from './covers.js';
export {
  type AddressTerm,
  type ClientSource,
  type Condition,
  type CountryTerm,
  type Covers,
  FIELDS,
  type Field,
  type HostTerm,
  type IfBlind,
  type ListTerm,
  type MethodTerm,
  type Negation,
  type PathTerm,
  type Policy,
  type PortTerm,
  type Rule,
  STANCES,
  type Stance,
  type Term,
  type Test,
  type TokenTerm,
  type Value,
  VERDICTS,
  type Verdict,
} from './policy.js';
export { readPolicy } from './read.js';
export { checkPolicyReferences, type ListUse, listUses, termsOf, trustOf } from './references.js';
export { defaultSentence, formatPorts, ruleSentence, tellCountry } from './sentence.js';
