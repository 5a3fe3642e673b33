import { json } from './access';

/** A place outside that is told of accepted submissions, and how it stands. */
export interface Outlet {
  name: string;
  where: string;
  on: boolean;
  why?: string;
  waiting: number;
  oldest?: string;
  failed: number;
}

export const STATES = ['waiting', 'delivered', 'failed'] as const;

/** One message to an outlet, and what became of it. */
export interface Delivery {
  id: string;
  outlet: string;
  form: string;
  record?: string;
  version?: number;
  change: string;
  state: (typeof STATES)[number];
  tries: number;
  madeAt: string;
  nextAt?: string;
  endedAt?: string;
  answer?: string;
}

export interface DeliveriesPage {
  deliveries: Delivery[];
  before?: string;
}

export const outlets = async () => (await json<{ outlets: Outlet[] }>('/outlets')).outlets;
export const switchOutlet = (name: string, on: boolean) =>
  json<Outlet>(`/outlets/${name}`, 'PUT', { on });
export const testOutlet = (name: string) =>
  json<{ delivered: boolean; answer: string }>(`/outlets/${name}/test`, 'POST');

/** A page of deliveries: those that the query asks for, the latest first. */
export const deliveries = (query: URLSearchParams) => json<DeliveriesPage>(`/deliveries?${query}`);
export const sendAgain = (id: string) => json<Delivery>(`/deliveries/${id}/again`, 'POST');
