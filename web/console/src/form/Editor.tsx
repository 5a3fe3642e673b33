import { autocompletion, closeBrackets, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { yaml } from '@codemirror/lang-yaml';
import { bracketMatching, indentOnInput, syntaxHighlighting } from '@codemirror/language';
import { lintKeymap, linter, lintGutter, type Diagnostic } from '@codemirror/lint';
import { EditorState, type Text } from '@codemirror/state';
import { drawSelection, EditorView, hoverTooltip, keymap, lineNumbers } from '@codemirror/view';
import { classHighlighter } from '@lezer/highlight';
import { useEffect, useRef } from 'react';
import { NONCE } from '../nonce';
import { language, t } from '../words';
import { lint, type FileError, type Place } from './files';
import { meaningOf } from './help';
import { offerAt } from './schema';

/** So long after the last key the service is asked what is wrong, in milliseconds. */
const PAUSE = 120;

interface Props {
  place: Place;
  /** The media type of the text. */
  type: string;
  /** What it begins with. */
  begin: string;
  change: (text: string) => void;
  /** Is told what is wrong with a text, each time that the service has looked. */
  linted: (errors: FileError[], text: string) => void;
}

/** Edits a form file, or what forms share; what is wrong is told by the service's own reader, and what fits by the schema of form files. */
export function Editor({ place, type, begin, change, linted }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const told = useRef({ change, linted });
  told.current = { change, linted };
  const { kind, name } = place;
  useEffect(() => {
    const view = new EditorView({
      parent: host.current!,
      state: EditorState.create({
        doc: begin,
        extensions: [
          EditorView.cspNonce.of(NONCE),
          lineNumbers(),
          history(),
          drawSelection(),
          indentOnInput(),
          bracketMatching(),
          closeBrackets(),
          yaml(),
          syntaxHighlighting(classHighlighter),
          lintGutter(),
          linter(
            async ({ state: { doc } }) => {
              const text = doc.toString();
              const errors = await lint({ kind, name }, text, type);
              told.current.linted(errors, text);
              return errors.map((error) => diagnostic(doc, error));
            },
            { delay: PAUSE },
          ),
          autocompletion({
            override: [
              // The schema is that of form files.
              ({ state, pos, explicit }) => {
                const { typed, words, keys } = offerAt(state.sliceDoc(0, pos));
                return kind !== 'forms' || words.length === 0 || (!typed && !explicit)
                  ? null
                  : {
                      from: pos - typed.length,
                      options: words.map((label) => ({
                        label,
                        type: keys ? 'property' : 'enum',
                        apply: keys ? `${label}: ` : label,
                        ...help(state.sliceDoc(0, pos - typed.length), label),
                      })),
                    };
              },
            ],
          }),
          hoverTooltip((view, pos) => {
            const word = kind === 'forms' ? view.state.wordAt(pos) : null;
            const text = view.state.doc;
            const meaning =
              word &&
              meaningOf(text.sliceString(0, word.from), text.sliceString(word.from, word.to));
            if (!meaning) {
              return null;
            }
            return {
              pos: word.from,
              end: word.to,
              above: true,
              create: () => {
                const dom = document.createElement('div');
                dom.className = 'meaning';
                dom.textContent = meaning;
                return { dom };
              },
            };
          }),
          // Tab leaves the editor, as it leaves every control.
          keymap.of([...completionKeymap, ...lintKeymap, ...historyKeymap, ...defaultKeymap]),
          EditorView.contentAttributes.of({
            'aria-label': kind === 'forms' ? t('Form file') : name,
            lang: language(),
            spellcheck: 'false',
          }),
          EditorView.updateListener.of(({ docChanged, state }) => {
            if (docChanged) {
              told.current.change(state.doc.toString());
            }
          }),
        ],
      }),
    });
    // What scrolls can be gone to by keyboard.
    view.scrollDOM.tabIndex = 0;
    return () => view.destroy();
    // A text that was published meanwhile is another editor.
  }, [kind, name, type, begin]);
  return <div ref={host} className="code-editor" />;
}

/** What an offered word means, beside it. */
function help(before: string, word: string): { info?: string } {
  const info = meaningOf(before, word);
  return info === undefined ? {} : { info };
}

/** Where an error stands, up to the end of its word. */
function diagnostic(doc: Text, { line, column, code, detail }: FileError): Diagnostic {
  const at = doc.line(Math.min(Math.max(1, line), doc.lines));
  const from = Math.min(at.to, at.from + Math.max(0, column - 1));
  const word = /^[\w.-]+/.exec(doc.sliceString(from, at.to))?.[0] ?? ' ';
  return {
    from,
    to: Math.min(at.to, from + word.length),
    severity: 'error',
    source: code,
    message: detail,
  };
}
