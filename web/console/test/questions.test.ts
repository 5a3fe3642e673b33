import { expect, it } from 'vitest';
import { fileOfAnswers } from '../src/form/questions';

it('makes a form file of answers, whatever they are made of', () => {
  const file = fileOfAnswers('raft', 'Rafts: "old" & new', [
    { label: 'Name of the raft', type: 'text', required: true, options: '' },
    { label: 'Wood', type: 'choice', required: false, options: 'Oak, Old elm,, Oak' },
    { label: '  ', type: 'date', required: true, options: '' },
    { label: 'Größe: {m}', type: 'decimal', required: false, options: '' },
    { label: '船', type: 'text', required: false, options: '' },
    { label: 'Wood', type: 'boolean', required: false, options: '' },
  ]);
  expect(file).toBe(`form: raft
title: "Rafts: \\"old\\" & new"
access: { add: anyone }
fields:
  nameOfTheRaft: { type: text, label: "Name of the raft", required: true }
  wood: { type: choice, label: "Wood", options: { oak: "Oak", oldElm: "Old elm", oak2: "Oak" } }
  groeM: { type: decimal, label: "Größe: {m}" }
  field: { type: text, label: "船" }
  wood2: { type: boolean, label: "Wood" }
`);
});
