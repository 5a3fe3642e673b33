// @vitest-environment jsdom
import type { Description } from 'nodley-page';
import { act } from 'react';
import { createRoot } from 'react-dom/client';
import { expect, it } from 'vitest';
import { CallerContext, useRights, type Caller, type Rights } from '../src/caller';

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

type Who = string | string[];

/** The rights of a caller to a form, as a view has them. */
function rights(caller: Partial<Caller>, access: { see?: Who; edit?: Who }): Rights {
  let found: Rights | undefined;
  function View() {
    found = useRights({
      form: 'visit',
      access: { add: 'anyone', see: 'signed-in', edit: 'clerk', remove: 'clerk', ...access },
    } as unknown as Description);
    return null;
  }
  const whole = { caller: 'x', roles: [], forms: [], ...caller };
  const root = createRoot(document.createElement('div'));
  act(() =>
    root.render(
      <CallerContext.Provider value={whole}>
        <View />
      </CallerContext.Provider>,
    ),
  );
  return found!;
}

const ann = { person: 'own:ann' };
const annsRecord = { owner: 'own:ann' };
const bobsRecord = { owner: 'own:bob' };

// Who, what the form says, and then: sees, edits anything, edits Ann's, edits Bob's.
it.each<[string, Partial<Caller>, Who, Who, boolean[]]>([
  ['whoever is signed in', {}, 'signed-in', 'clerk', [true, false, false, false]],
  ['a clerk', { roles: ['clerk'] }, 'signed-in', 'clerk', [true, true, true, true]],
  [
    'one of several roles',
    { roles: ['pilot'] },
    'clerk',
    ['clerk', 'pilot'],
    [false, true, true, true],
  ],
  ['an admin', { roles: ['admin'] }, [], [], [true, true, true, true]],
  ['an owner', ann, 'owner', 'owner', [true, true, true, false]],
  ['a program, which owns nothing', {}, 'owner', 'owner', [false, false, false, false]],
  [
    'a key for another form',
    { roles: ['admin'], forms: ['berth'] },
    'signed-in',
    'clerk',
    [false, false, false, false],
  ],
  [
    'a key for this form',
    { roles: ['clerk'], forms: ['visit'] },
    'signed-in',
    'clerk',
    [true, true, true, true],
  ],
  ['anybody, where anyone may', { forms: ['berth'] }, 'anyone', 'anyone', [true, true, true, true]],
])('offers what the service gives: %s', (_, caller, see, edit, expected) => {
  const { may } = rights(caller, { see, edit });
  expect([may('see'), may('edit'), may('edit', annsRecord), may('edit', bobsRecord)]).toEqual(
    expected,
  );
});

it('shows form files to authors of the form, and to admins', () => {
  expect(rights({ roles: ['author'] }, {}).author).toBe(true);
  expect(rights({ roles: ['admin'] }, {}).author).toBe(true);
  expect(rights({ roles: ['author'], forms: ['berth'] }, {}).author).toBe(false);
  expect(rights({ roles: ['clerk'] }, {}).author).toBe(false);
});
