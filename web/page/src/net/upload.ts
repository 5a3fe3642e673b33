import type { Problem, Service } from './service';

/** So many bytes go in one request at most: what a broken line loses of the progress shown. */
const PIECE = 8 << 20;

/** After a lost line, it is tried again after so many milliseconds, and then after longer. */
const FIRST_PAUSE = 500;
const LONGEST_PAUSE = 10_000;

/** What can become better by itself; other refusals are final (RFC 9110). */
const PASSING = [408, 409, 429, 502, 503, 504];

/** What is told of an upload while it goes on. */
export interface Progress {
  /** How many bytes the service has. */
  sent: (bytes: number) => void;
  /** The line is lost; it is tried again by itself. */
  waiting: () => void;
}

/** What the service has of a file. */
export interface Uploaded {
  id: string;
  /** What stands as the field's value. */
  value: string;
  name: string;
  type: string;
  size: number;
}

/** The service does not take the file. */
export class NotTaken extends Error {}

/**
 * Sends a file by the tus protocol 1.0.0. Where the line breaks, it goes on where the service has
 * stopped, whenever that can be asked again.
 *
 * @throws NotTaken with what the service says, or an AbortError
 */
export async function upload(
  service: Service,
  file: File,
  target: { form: string; field: string },
  progress: Progress,
  signal: AbortSignal,
): Promise<Uploaded> {
  const line = new Line(service, progress, signal);
  const metadata = { ...target, filename: file.name, filetype: file.type };
  const begun = await line.send('POST', '/uploads', {
    'Upload-Length': String(file.size),
    'Upload-Metadata': Object.entries(metadata)
      .filter(([, value]) => value)
      .map(([name, value]) => `${name} ${base64(value)}`)
      .join(','),
  });
  const path = `/uploads/${begun.getResponseHeader('Location')!.split('/').pop()!}`;
  let offset = Number(begun.getResponseHeader('Upload-Offset'));
  // Whoever stops it, or leaves, does not need what has come.
  signal.addEventListener('abort', () => void line.once('DELETE', path).catch(() => undefined));
  while (offset < file.size) {
    progress.sent(offset);
    offset = await line.append(path, file, offset);
  }
  progress.sent(file.size);
  return JSON.parse((await line.send('GET', path)).responseText) as Uploaded;
}

function base64(text: string): string {
  return btoa(String.fromCharCode(...new TextEncoder().encode(text)));
}

/** Requests about one upload, each sent until it is answered. */
class Line {
  #pause = FIRST_PAUSE;

  constructor(
    private readonly service: Service,
    private readonly progress: Progress,
    private readonly signal: AbortSignal,
  ) {}

  /** Sends one more piece; where the service has less of it than was sent, it tells. */
  async append(path: string, file: File, offset: number): Promise<number> {
    const headers = {
      'Upload-Offset': String(offset),
      'Content-Type': 'application/offset+octet-stream',
    };
    try {
      const piece = file.slice(offset, offset + PIECE);
      const done = await this.once('PATCH', path, headers, piece, offset);
      this.#pause = FIRST_PAUSE;
      return Number(done.getResponseHeader('Upload-Offset'));
    } catch (failure) {
      await this.#wait(failure);
      return Number((await this.send('HEAD', path)).getResponseHeader('Upload-Offset'));
    }
  }

  async send(
    method: string,
    path: string,
    headers: Record<string, string> = {},
  ): Promise<XMLHttpRequest> {
    for (;;) {
      try {
        return await this.once(method, path, headers);
      } catch (failure) {
        await this.#wait(failure);
      }
    }
  }

  /** Waits until it is worth another try, if it is. */
  async #wait(failure: unknown): Promise<void> {
    if (failure instanceof NotTaken || this.signal.aborted) {
      throw failure;
    }
    this.progress.waiting();
    await new Promise<void>((resolve) => {
      const again = () => {
        clearTimeout(timer);
        removeEventListener('online', again);
        resolve();
      };
      const timer = setTimeout(again, this.#pause);
      addEventListener('online', again);
      this.signal.addEventListener('abort', again);
    });
    this.#pause = Math.min(2 * this.#pause, LONGEST_PAUSE);
    this.signal.throwIfAborted();
  }

  /** Sends a request; only this kind tells how much of its body has gone. */
  async once(
    method: string,
    path: string,
    headers: Record<string, string> = {},
    body?: Blob,
    offset = 0,
  ): Promise<XMLHttpRequest> {
    const token = await this.service['token']?.();
    const request = new XMLHttpRequest();
    request.open(method, this.service.base + path);
    const all = {
      'Tus-Resumable': '1.0.0',
      ...(token && { Authorization: `Bearer ${token}` }),
      ...headers,
    };
    for (const [name, value] of Object.entries(all)) {
      request.setRequestHeader(name, value);
    }
    const language = this.service['language'];
    if (language) {
      request.setRequestHeader('Accept-Language', language);
    }
    if (body) {
      request.upload.onprogress = ({ loaded }) => this.progress.sent(offset + loaded);
    }
    return new Promise((resolve, reject) => {
      request.onload = () => {
        if (request.status < 400) {
          resolve(request);
        } else {
          reject(
            PASSING.includes(request.status)
              ? new Error(String(request.status))
              : new NotTaken(detail(request)),
          );
        }
      };
      request.onerror = () => reject(new Error('the line is lost'));
      request.onabort = () => reject(new DOMException('stopped', 'AbortError'));
      if (method !== 'DELETE') {
        this.signal.addEventListener('abort', () => request.abort());
      }
      request.send(body ?? null);
    });
  }
}

function detail(request: XMLHttpRequest): string {
  try {
    const { detail, title } = JSON.parse(request.responseText) as Problem;
    return detail ?? title;
  } catch {
    return String(request.status);
  }
}
