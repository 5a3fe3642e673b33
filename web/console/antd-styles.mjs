import { createCache, extractStyle as stylesOf, StyleProvider } from '@ant-design/cssinjs';
import { extractStyle as renderAll } from '@ant-design/static-style-extract';
import { ConfigProvider } from 'antd';
import { createElement } from 'react';

/** Ant Design's components that the console shows, those within others too. */
const COMPONENTS = [
  'Alert',
  'App',
  'Button',
  'Checkbox',
  'Drawer',
  'Dropdown',
  'Empty',
  'Input',
  'Menu',
  'message',
  'Modal',
  'notification',
  'Pagination',
  'Popover',
  'Progress',
  'Radio',
  'Select',
  'Skeleton',
  'Space',
  'Spin',
  'Statistic',
  'Switch',
  'Table',
  'Tabs',
  'Tooltip',
  'Tree',

  'Typography',
];

const STYLES = 'virtual:antd.css';
const MAKERS = ['genStyleHooks', 'genSubStyleComponent', 'genComponentStyleHook'];
const STYLE_FILE = /\/antd\/es\/.*style.*\.js$/;
const STYLE_MODULE = /\/antd\/es\/([a-z-]+)\/style\/index\.js$/;

/**
 * Ant Design's styles as one style sheet, made when the console is built: made in the browser, they took a quarter of the
 * time of each page. Colours and sizes are variables in it, and are set in the browser as before.
 *
 * The build fails where the list of components is not the one that the console uses.
 *
 * @returns {import('vite').Plugin}
 */
export function antdStyles() {
  let building = false;
  return {
    name: 'antd-styles',
    configResolved(config) {
      building = config.command === 'build';
    },
    resolveId: (id) => (id === STYLES ? `\0${STYLES}` : undefined),
    load: (id) => (id === `\0${STYLES}` ? styleSheet() : undefined),
    transform(code, id) {
      return building && STYLE_FILE.test(id) ? withoutStyles(code, this.parse(code)) : undefined;
    },
    generateBundle(_, bundle) {
      const used = new Set();
      for (const chunk of Object.values(bundle)) {
        for (const [id, module] of Object.entries(chunk.type === 'chunk' ? chunk.modules : {})) {
          const folder = STYLE_MODULE.exec(id)?.[1];
          // Of some modules only a helper is used, not the component's styles.
          if (folder && module.renderedExports.includes('default')) {
            used.add(folder.replaceAll('-', ''));
          }
        }
      }
      const listed = new Set(COMPONENTS.map((name) => name.toLowerCase()));
      const wrong = [
        ...[...used].filter((name) => !listed.has(name)).map((name) => `"${name}" is missing`),
        ...[...listed].filter((name) => !used.has(name)).map((name) => `"${name}" is not used`),
      ];
      if (wrong.length > 0) {
        this.error(`COMPONENTS in console/antd-styles.mjs: ${wrong.join(', ')}.`);
      }
    },
  };
}

function styleSheet() {
  const cache = createCache();
  renderAll({
    includes: COMPONENTS,
    customTheme: (components) =>
      createElement(
        StyleProvider,
        { cache },
        // Without the class that tells several themes of one page apart.
        createElement(ConfigProvider, { theme: { hashed: false } }, components),
      ),
  });
  return stylesOf(cache, { plain: true, types: 'style' });
}

/** A file of styles, in which the functions that make them are left out; variables stay. */
function withoutStyles(code, program) {
  let text = code;
  for (const { declaration } of program.body.toReversed()) {
    const calls = declaration?.declarations?.map(({ init }) => init) ?? [declaration];
    for (const call of calls.toReversed()) {
      if (call?.type === 'CallExpression' && MAKERS.includes(call.callee.name)) {
        const { start, end } = call.arguments[1];
        text = `${text.slice(0, start)}() => []${text.slice(end)}`;
      }
    }
  }
  return text;
}
