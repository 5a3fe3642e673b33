import { autocompletion, closeBrackets, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { yaml } from '@codemirror/lang-yaml';
import { bracketMatching, indentOnInput, syntaxHighlighting } from '@codemirror/language';
import { lintKeymap, linter, lintGutter, type Diagnostic } from '@codemirror/lint';
import { EditorState, type Text } from '@codemirror/state';
import { drawSelection, EditorView, keymap, lineNumbers } from '@codemirror/view';
import { classHighlighter } from '@lezer/highlight';
import { useEffect, useRef } from 'react';
import { NONCE } from '../nonce';
import { language, t } from '../words';
import { lint, type FileError } from './files';
import { offerAt } from './schema';

/** So long after the last key the service is asked what is wrong, in milliseconds. */
const PAUSE = 120;

interface Props {
  form: string;
  /** The media type of the text. */
  type: string;
  /** What it begins with. */
  begin: string;
  change: (text: string) => void;
  /** Is told what is wrong, each time that the service has looked. */
  linted: (errors: FileError[]) => void;
}

/** Edits a form file; what is wrong is told by the service's own reader, and what fits by the schema of form files. */
export function Editor({ form, type, begin, change, linted }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const told = useRef({ change, linted });
  told.current = { change, linted };
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
              const { errors } = await lint(form, doc.toString(), type);
              told.current.linted(errors);
              return errors.map((error) => diagnostic(doc, error));
            },
            { delay: PAUSE },
          ),
          autocompletion({
            override: [
              ({ state, pos, explicit }) => {
                const { typed, words, keys } = offerAt(state.sliceDoc(0, pos));
                return words.length === 0 || (!typed && !explicit)
                  ? null
                  : {
                      from: pos - typed.length,
                      options: words.map((label) => ({
                        label,
                        type: keys ? 'property' : 'enum',
                        apply: keys ? `${label}: ` : label,
                      })),
                    };
              },
            ],
          }),
          // Tab leaves the editor, as it leaves every control.
          keymap.of([...completionKeymap, ...lintKeymap, ...historyKeymap, ...defaultKeymap]),
          EditorView.contentAttributes.of({
            'aria-label': t('Form file'),
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
  }, [form, type, begin]);
  return <div ref={host} className="code-editor" />;
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
