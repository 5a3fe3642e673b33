import type { Description } from 'nodley-page';
import { createContext, useContext } from 'react';

/** Who is signed in, as `GET /api/session` tells it. */
export interface Caller {
  caller: string;
  /** The id of a person; of whoever holds a key there is none. */
  person?: string;
  roles: string[];
  /** The forms that the key is good for; none named: all. */
  forms: string[];
}

export const CallerContext = createContext<Caller>({ caller: '', roles: [], forms: [] });

/** True if the one who is signed in has a role, or is an admin, who has them all. */
export function hasRole({ roles }: Caller, role: string): boolean {
  return roles.includes(role) || roles.includes('admin');
}

/** What the one who is signed in may do, so that nothing is offered that the service would refuse. */
export interface Rights {
  /** With a record, for that one; without, for some. */
  may: (what: keyof Description['access'], record?: { owner?: string }) => boolean;
  /** May read the form file. */
  author: boolean;
}

export function useRights({ form, access }: Description): Rights {
  const { roles, forms, person } = useContext(CallerContext);
  const isFor = forms.length === 0 || forms.includes(form);
  const has = (role: string) => isFor && (roles.includes(role) || roles.includes('admin'));
  return {
    may: (what, record) => {
      const words = [access[what]].flat();
      const owns = person !== undefined && (!record || record.owner === person);
      return (
        words.some(
          (word) =>
            word === 'anyone' ||
            (isFor && word === 'signed-in') ||
            (word === 'owner' ? owns : has(word)),
        ) || has('admin')
      );
    },
    author: has('author'),
  };
}
