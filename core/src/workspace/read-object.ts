import { readApplication } from '../application/index.js';
import { readCategory } from '../category/index.js';
import { readCheck } from '../check/index.js';
import { readCorrections } from '../correction/index.js';
import { readList } from '../list/index.js';
import { readNotice } from '../notice/index.js';
import { readPolicy } from '../policy/index.js';
import { readProbe } from '../probe/index.js';
import { readSchedule } from '../schedule/index.js';
import type { DocumentKind, TextDocument } from '../text/index.js';
import type { WorkspaceObject } from './workspace.js';

const READERS: { readonly [K in DocumentKind]: (document: TextDocument) => WorkspaceObject | undefined } = {
  policy: readPolicy,
  list: readList,
  category: readCategory,
  application: readApplication,
  schedule: readSchedule,
  notice: readNotice,
  corrections: readCorrections,
  probe: readProbe,
  check: readCheck,
};

/** Reads a document of any kind; undefined when it has no readable name. */
export const readObject = (document: TextDocument): WorkspaceObject | undefined => READERS[document.kind](document);
