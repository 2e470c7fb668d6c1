export { exceptionSentence } from './clause.js';
export {
  type AddressTerm,
  type Comparison,
  type Condition,
  type CountryTerm,
  type HostTerm,
  type ListTerm,
  type NameTerm,
  type Negation,
  type NoneTerm,
  type PathTerm,
  type PortTerm,
  partTerms,
  type SizeTerm,
  type Term,
  type Test,
  type TextTerm,
  type TokenTerm,
  termsOf,
  type UrlTerm,
  type UserTerm,
  type Value,
  valuesOf,
} from './condition.js';
export {
  type Field,
  type FieldName,
  type FieldPlace,
  fieldName,
  NAMED_FIELDS,
  type NamedField,
  PLAIN_FIELDS,
  type PlainField,
  tryField,
} from './field.js';
export { conditionSentence } from './phrase.js';
export { readConditions } from './read.js';
export { type ListUse, listsNamed, type NamedKind, type NameUse, namesUsed } from './references.js';
export { formatAmount, sizeCompares, tryAmount } from './size.js';
export { formatPorts, formatTerm } from './term-text.js';
export {
  readAddressTerm,
  readCountryTerm,
  readHostTerm,
  readTerms,
  readUrlTerm,
  type TermReader,
} from './terms.js';
export { inWords } from './words.js';
