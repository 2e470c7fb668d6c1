import {
  autocompletion,
  type CompletionContext,
  type CompletionResult,
  completionKeymap,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { yaml } from '@codemirror/lang-yaml';
import { HighlightStyle, indentOnInput, syntaxHighlighting } from '@codemirror/language';
import { type Diagnostic, lintGutter, lintKeymap, setDiagnostics } from '@codemirror/lint';
import { Annotation, EditorState } from '@codemirror/state';
import { drawSelection, EditorView, highlightActiveLine, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { useEffect, useRef } from 'react';
import { placeAt } from './key-path.js';
import type { Option } from './schema-options.js';

/** Something wrong at a line of the text. */
export interface TextProblem {
  readonly line?: number | undefined;
  readonly column?: number | undefined;
  readonly length?: number | undefined;
  readonly what: string;
}

export interface CodeMirrorProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly problems: readonly TextProblem[];
  /** What can be written at a place; asked while somebody writes. */
  readonly optionsAt: (place: { readonly path: readonly string[]; readonly at: 'key' | 'value' }) => readonly Option[];
  /** The least lines that it is high. */
  readonly rows: number;
}

/**
 * An editor for YAML. It stands in a shadow root: there its styles are sheets of the page, and no `<style>` element, which
 * the content policy forbids.
 */
export default function CodeMirror(props: CodeMirrorProps) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  /** The texts that were typed and have not come back as the value yet. */
  const typed = useRef<string[]>([]);
  const latest = useRef(props);
  latest.current = props;
  const { label, value, problems, rows } = props;

  useEffect(() => {
    const element = host.current as HTMLDivElement;
    const root = element.shadowRoot ?? element.attachShadow({ mode: 'open', delegatesFocus: true });
    const parent = document.createElement('div');
    root.replaceChildren(parent);
    const editor = new EditorView({
      root,
      parent,
      state: EditorState.create({
        doc: latest.current.value,
        extensions: [
          ...[lineNumbers(), history(), drawSelection(), highlightActiveLine(), indentOnInput(), yaml(), lintGutter()],
          syntaxHighlighting(COLOURS),
          autocompletion({ override: [(context) => completions(context, latest.current.optionsAt)], icons: false }),
          // The tabulator goes on to the next part of the page, as everywhere.
          keymap.of([...completionKeymap, ...lintKeymap, ...historyKeymap, ...defaultKeymap]),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': latest.current.label, spellcheck: 'false' }),
          EditorView.updateListener.of(({ docChanged, state, transactions }) => {
            const isTyped = docChanged && !transactions.some((each) => each.annotation(fromOutside));
            if (!isTyped) return;
            const text = state.doc.toString();
            typed.current.push(text);
            latest.current.onChange(text);
          }),
          LOOKS,
        ],
      }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, []);

  // What somebody else made of the text, such as the form beside it, comes in. One's own typing comes back here too, later
  // than it was typed: what has been typed since must not go with it.
  useEffect(() => {
    const editor = view.current;
    const known = typed.current.lastIndexOf(value);
    typed.current = typed.current.slice(known + 1);
    if (!editor || known >= 0 || editor.state.doc.toString() === value) return;
    typed.current = [];
    editor.dispatch({
      changes: changeBetween(editor.state.doc.toString(), value),
      annotations: fromOutside.of(true),
    });
  }, [value]);

  useEffect(() => {
    const editor = view.current;
    if (editor) editor.dispatch(setDiagnostics(editor.state, diagnosticsOf(editor.state, problems)));
  }, [problems]);

  return <div ref={host} data-text={label} style={{ '--rows': rows } as React.CSSProperties} />;
}

/** Marks a change that comes from outside the editor, which its owner knows of. */
const fromOutside = Annotation.define<boolean>();

/** The smallest change that makes one text of another, so that the cursor stays where nothing has changed. */
function changeBetween(before: string, after: string): { from: number; to: number; insert: string } {
  const most = Math.min(before.length, after.length);
  let start = 0;
  while (start < most && before[start] === after[start]) start++;
  let end = 0;
  while (end < most - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
  return { from: start, to: before.length - end, insert: after.slice(start, after.length - end) };
}

function completions(
  { state, pos, explicit }: CompletionContext,
  optionsAt: CodeMirrorProps['optionsAt'],
): CompletionResult | null {
  const place = placeAt(state.doc.toString(), pos);
  if (place.word === '' && !explicit) return null;
  const options = optionsAt(place);
  if (options.length === 0) return null;
  return {
    from: pos - place.word.length,
    options: options.map(({ label, detail }) => ({
      label,
      detail,
      apply: place.at === 'key' ? `${label}: ` : label,
    })),
    validFor: /^[\w.-]*$/,
  };
}

function diagnosticsOf(state: EditorState, problems: readonly TextProblem[]): Diagnostic[] {
  return problems.flatMap(({ line, column, length, what }): Diagnostic[] => {
    if (line === undefined || line < 1 || line > state.doc.lines) return [];
    const { from: start, to: end } = state.doc.line(line);
    const from = Math.min(end, start + (column === undefined ? 0 : column - 1));
    const to = length === undefined ? end : Math.min(end, from + length);
    return [{ from, to: Math.max(from, to), severity: 'error', message: what }];
  });
}

/** Keys stand out, comments step back; values are as they are. */
const COLOURS = HighlightStyle.define([
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: 'var(--color-ink)', fontWeight: '600' },
  { tag: tags.comment, color: 'var(--color-soft)', fontStyle: 'italic' },
  { tag: [tags.punctuation, tags.separator, tags.squareBracket, tags.brace], color: 'var(--color-soft)' },
]);

const LOOKS = EditorView.theme({
  '&': {
    border: '1px solid var(--color-edge)',
    borderRadius: '2px',
    backgroundColor: 'var(--color-paper)',
    color: 'var(--color-ink)',
    minHeight: 'calc(var(--rows) * 18px)',
    fontSize: '13px',
  },
  '&.cm-focused': { outline: '2px solid var(--color-iris)', outlineOffset: '1px' },
  '.cm-scroller': { fontFamily: 'var(--font-mono)', lineHeight: '18px' },
  '.cm-content': { caretColor: 'var(--color-ink)' },
  '.cm-cursor': { borderLeftColor: 'var(--color-ink)' },
  '.cm-gutters': { backgroundColor: 'transparent', color: 'var(--color-soft)', border: 'none' },
  '.cm-activeLine': { backgroundColor: 'color-mix(in srgb, var(--color-line) 35%, transparent)' },
  '&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground': {
    backgroundColor: 'var(--color-chosen)',
  },
  '.cm-tooltip': {
    backgroundColor: 'var(--color-sheet)',
    color: 'var(--color-ink)',
    border: '1px solid var(--color-edge)',
  },
  '.cm-tooltip-autocomplete > ul > li[aria-selected]': {
    backgroundColor: 'var(--color-chosen)',
    color: 'var(--color-ink)',
  },
  '.cm-completionDetail': { color: 'var(--color-soft)', fontStyle: 'normal', marginLeft: '1em' },
  '.cm-diagnostic': { borderLeft: '3px solid var(--color-plum)' },
  '.cm-lintRange-error': {
    backgroundImage: 'none',
    textDecoration: 'underline wavy var(--color-plum)',
    textUnderlineOffset: '3px',
  },
  '.cm-lint-marker-error': { content: '"✗"', color: 'var(--color-plum)' },
  '.cm-gutter-lint': { width: '1em' },
});
