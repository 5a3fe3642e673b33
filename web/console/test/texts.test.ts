import { expect, it } from 'vitest';
import { treeOf } from '../src/form/texts';

it('puts texts together in the shape of the form', () => {
  // As docs/form-file.md has it.
  expect(
    treeOf(
      new Map([
        ['title.add', 'Ein Floß anmelden'],
        ['fields.name.label', 'Name'],
        ['fields.name.help', '  '],
        ['fields.rig.options.sail', 'Segel'],
        ['fields.owner.fields.email.label', 'E-Mail'],
        ['rules.1.say', 'Zu viele Nächte.'],
      ]),
    ),
  ).toEqual({
    title: { add: 'Ein Floß anmelden' },
    fields: {
      name: { label: 'Name' },
      rig: { options: { sail: 'Segel' } },
      owner: { fields: { email: { label: 'E-Mail' } } },
    },
    rules: [{}, { say: 'Zu viele Nächte.' }],
  });
  expect(treeOf(new Map())).toEqual({});
});
