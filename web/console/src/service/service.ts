import { json } from '../access';

/** How much of the disk the data takes; sizes in bytes. */
export interface DiskUse {
  free: number;
  total: number;
  database: number;
  files: number;
  log: number;
  records: number;
  acceptedInWeek: number;
  grownInWeek: number;
}

export interface ServiceState {
  version: string;
  dataVersion: number;
  startedAt: string;
  disk: DiskUse;
  drafts: FormDrafts[];
  uploads: FormUploads[];
}

/** Drafts of a form; times in milliseconds since 1970. */
export interface FormDrafts {
  form: string;
  count: number;
  oldest: number;
  nextEnd: number;
}

/** Files for a form that no record has. */
export interface FormUploads {
  form: string;
  count: number;
  bytes: number;
  nextEnd: number;
}

/** How long the submissions of an hour took. */
export interface Latency {
  hour: number;
  count: number;
  medianMicros: number;
  p99Micros: number;
}

export const latencies = async () =>
  (await json<{ latencies: Latency[] }>('/service/latency')).latencies;

/** What a look over all data came to. */
export interface Finding {
  what: string;
  ok: boolean;
  detail: string;
}

export const findings = async () =>
  (await json<{ findings: Finding[] }>('/service/findings')).findings;

export const service = () => json<ServiceState>('/service');

/** In how many days the disk is full, if it goes on as in the last week; nothing if it does not grow. */
export function daysLeft({ free, grownInWeek }: DiskUse): number | undefined {
  return grownInWeek > 0 ? Math.floor((7 * free) / grownInWeek) : undefined;
}

const UNITS = ['bytes', 'kB', 'MB', 'GB', 'TB'];

/** A size as people read it. */
export function size(bytes: number): string {
  let value = bytes;
  let unit = 0;
  while (value >= 1000 && unit < UNITS.length - 1) {
    value /= 1000;
    unit++;
  }
  return `${unit === 0 || value >= 100 ? Math.round(value) : value.toFixed(1)} ${UNITS[unit]}`;
}

/** Someone that forms ask outside. */
export interface Asked {
  name: string;
  where: string;
  resting?: boolean;
}

/** The databases in which forms look things up. */
export const sources = async () => (await json<{ sources: Asked[] }>('/sources')).sources;
export const asks = async () => (await json<{ asks: Asked[] }>('/asks')).asks;
