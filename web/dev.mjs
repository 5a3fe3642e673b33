// ./nodley dev: the service, its pages and the console at one address, each anew as soon as its files change.
//
// Vite serves the page runtime and the console from their sources, and passes everything else to the service, which runs
// from the classes of the modules. A changed Java file or resource is compiled, and the service started again; a changed
// form file of demo/forms is published. Open pages are loaded anew.
import { spawn, spawnSync } from 'node:child_process';
import {
  cpSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  watch,
} from 'node:fs';
import { createServer as createTcpServer } from 'node:net';
import { tmpdir } from 'node:os';
import { basename, delimiter, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import react from '@vitejs/plugin-react';
import { createServer } from 'vite';
import { antdStyles } from './console/antd-styles.mjs';

const HOME = resolve(import.meta.dirname, '..');
const WEB = import.meta.dirname;
const JDK = process.env.NODLEY_JDK;
const RUN = process.env.NODLEY_RUN ?? join(HOME, 'target/run');
const MODULES = ['core', 'store', 'begin', 'service'];
const KEY = process.env.NODLEY_ADMIN_KEY ?? 'only-for-development';
const PAUSE = 200;

/** Says what is wrong with how it was called, in a line, and ends. */
function fail(message) {
  console.error(message);
  process.exit(2);
}

function readOptions() {
  try {
    return parseArgs({
      options: {
        port: { type: 'string', default: '8420' },
        help: { type: 'boolean', short: 'h' },
      },
    }).values;
  } catch (failure) {
    return fail(`${failure.message.split('. ')[0]}. Usage: ./nodley dev [--port N]`);
  }
}

const options = readOptions();
if (!/^\d{1,5}$/.test(options.port) || Number(options.port) > 65535) {
  fail(`"${options.port}" is no port: --port takes a number up to 65535.`);
}
if (options.help) {
  console.log(
    'Usage: ./nodley dev [--port N]\nRuns service, pages and console, and reloads what changes.',
  );
  process.exit(0);
}

const at = (module, ...rest) => join(HOME, module, ...rest);
const libraries = readdirSync(join(RUN, 'service/lib'))
  .filter((it) => !it.startsWith('nodley-'))
  .map((it) => join(RUN, 'service/lib', it));
const classpath = [...MODULES, 'web']
  .map((it) => at(it, 'target/classes'))
  .concat(libraries)
  .join(delimiter);

const sources = (folder) =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((it) => it.endsWith('.java'))
    .map((it) => join(folder, it));

/** When the newest file of a folder was changed, in milliseconds since 1970. */
const newest = (folder) =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' }).reduce(
    (latest, it) => Math.max(latest, statSync(join(folder, it)).mtimeMs),
    0,
  );

/** The first module whose classes are older than its sources. */
const stale = () =>
  MODULES.find((it) => newest(at(it, 'src/main')) > newest(at(it, 'target/classes')));

/** Compiles a module and those that depend on it; false, with the compiler's words, if it cannot. */
function compile(module) {
  return MODULES.slice(MODULES.indexOf(module)).every((it) => {
    const target = at(it, 'target/classes');
    if (existsSync(at(it, 'src/main/resources'))) {
      cpSync(at(it, 'src/main/resources'), target, { recursive: true });
    }
    const flags = ['-parameters', '-proc:none', '-nowarn', '-d', target, '-cp', classpath];
    const result = spawnSync(
      join(JDK, 'bin/javac'),
      [...flags, ...sources(at(it, 'src/main/java'))],
      {
        stdio: 'inherit',
      },
    );
    return result.status === 0;
  });
}

function freePort() {
  return new Promise((done) => {
    const server = createTcpServer();
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => done(port));
    });
  });
}

const data = mkdtempSync(join(tmpdir(), 'nodley-dev-'));
const port = await freePort();
const service = `http://127.0.0.1:${port}`;
let running;

/** Starts the service, and resolves once it is ready; its data stays from one start to the next. */
function start() {
  running = spawn(
    join(JDK, 'bin/java'),
    [
      '--enable-native-access=ALL-UNNAMED',
      '-XX:TieredStopAtLevel=1',
      '-cp',
      classpath,
      'nodley.service.Nodley',
      'demo',
      '--data',
      data,
      '--port',
      String(port),
    ],
    { env: { ...process.env, NODLEY_ADMIN_KEY: KEY }, stdio: ['ignore', 'pipe', 'inherit'] },
  );
  const started = running;
  return new Promise((done, failed) => {
    let out = '';
    started.stdout.on('data', (chunk) => {
      out += chunk;
      if (out.includes('Nodley is ready at ')) {
        done();
      }
    });
    started.once('exit', () => failed(new Error(`The service did not start:\n${out}`)));
  });
}

/** Ends the service, and resolves once it is gone. */
function stop() {
  const ended = running;
  ended.removeAllListeners('exit');
  return ended.exitCode !== null || ended.signalCode
    ? Promise.resolve()
    : new Promise((done) => {
        ended.once('exit', done);
        ended.kill();
      });
}

/** What pages ask the service for, and find here from its source. */
const PAGE_SCRIPT = "import '/@vite/client';\nexport * from '/page/src/nodley.ts';\n";

const fromSources = {
  name: 'nodley-from-sources',
  resolveId: (id) => (id === '/page/nodley.js' ? id : undefined),
  load: (id) => (id === '/page/nodley.js' ? PAGE_SCRIPT : undefined),
  configureServer(server) {
    server.middlewares.use((request, response, next) => {
      const path = request.url.split('?')[0];
      if (path === '/page/nodley.css') {
        response
          .setHeader('Content-Type', 'text/css')
          .end(readFileSync(join(WEB, 'page/public/nodley.css')));
      } else if (path.startsWith('/console') && !/\.\w+$/.test(path)) {
        const html = readFileSync(join(WEB, 'console/index.html'), 'utf8').replace(
          '/src/',
          '/console/src/',
        );
        server
          .transformIndexHtml('/console/index.html', html)
          .then((it) => response.setHeader('Content-Type', 'text/html').end(it), next);
      } else {
        next();
      }
    });
  },
};

const OWN = '@|node_modules/|page/(?:nodley\\.js|src/)|(?:console|react|rehearse)/src/|console/';
const vite = await createServer({
  configFile: false,
  root: WEB,
  logLevel: 'warn',
  plugins: [react(), antdStyles(), fromSources],
  // Else it would be the folder beside this file.
  resolve: { alias: [{ find: /^react$/, replacement: join(WEB, 'node_modules/react/index.js') }] },
  optimizeDeps: {
    entries: ['console/src/main.tsx', 'page/src/nodley.ts'],
    include: ['react', 'react-dom/client', 'react-router', 'antd', 'react/jsx-dev-runtime'],
  },
  server: {
    host: '127.0.0.1',
    port: Number(options.port),
    strictPort: true,
    proxy: { [`^/(?!${OWN})`]: { target: service } },
  },
});

/** Publishes a form file of the demo as it is now; says what is wrong with it. */
async function publish(file) {
  const form = basename(file, '.form.yaml');
  const reply = await fetch(`${service}/api/forms/${form}`, {
    method: 'PUT',
    headers: { Authorization: `Bearer ${KEY}`, 'Content-Type': 'application/yaml' },
    body: readFileSync(at('demo/forms', file)),
  });
  const problem = reply.ok ? undefined : await reply.json();
  const errors = problem?.errors ?? [{ detail: problem?.detail ?? problem?.title }];
  const lines = errors.map(
    (it) => `${file}${it.line ? `:${it.line}:${it.column}` : ''}: ${it.detail}`,
  );
  console.log(problem ? lines.join('\n') : `Published ${form}.`);
}

const reload = () => vite.ws.send({ type: 'full-reload' });
const changed = new Set();
let timer;
let turn = Promise.resolve();

async function follow() {
  const paths = [...changed];
  changed.clear();
  const module = MODULES.find((it) => paths.some((path) => path.startsWith(`${it}/`)));
  if (module) {
    console.log(`Compiling ${module} …`);
    if (!compile(module)) {
      return;
    }
    await stop();
    await start();
    console.log('Started again.');
    reload();
  }
  for (const path of paths.filter((it) => it.startsWith('demo/forms/') && existsSync(at(it)))) {
    await publish(basename(path));
  }
  if (paths.some((it) => it.endsWith('.css'))) {
    reload();
  }
}

for (const folder of [...MODULES.map((it) => `${it}/src/main`), 'demo/forms', 'web/page/public']) {
  watch(at(folder), { recursive: true }, (_, file) => {
    changed.add(`${folder}/${file}`);
    clearTimeout(timer);
    timer = setTimeout(() => {
      turn = turn.then(follow).catch((failure) => console.error(failure.message));
    }, PAUSE);
  });
}

/** Ends the service and Vite, and removes the data. */
async function end(status) {
  await (running && stop());
  await vite.close();
  rmSync(data, { recursive: true, force: true });
  process.exit(status);
}

// Vite would end the process at once, with the service still running.
process.removeAllListeners('SIGTERM');
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.once(signal, () => void end(0));
}

try {
  const old = stale();
  if (old && !compile(old)) {
    throw new Error(`${old} cannot be compiled.`);
  }
  await start();
  await vite.listen();
} catch (failure) {
  console.error(failure.message);
  await end(1);
}
console.log(`
  Pages     http://127.0.0.1:${options.port}/forms
  Console   http://127.0.0.1:${options.port}/console/
  Key       ${KEY}

Java, TypeScript, CSS, and the form files in demo/forms are followed. End it with Ctrl-C.`);
