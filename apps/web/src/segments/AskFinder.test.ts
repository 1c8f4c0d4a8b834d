/** @jest-environment ./apps/web/src/testing/environment.mjs */
// What is offered first when a condition is added.
import { askedNow, firstOffered } from './AskFinder';

it('offers what was asked lately, then what is asked often', () => {
  const asked = 'town town town tag tag tag tag stage phone owner owner source closeness'
    .split(' ')
    .reduce<ReturnType<typeof askedNow>>(askedNow, []);
  expect(firstOffered(asked)).toEqual({
    lately: ['closeness', 'source', 'owner', 'phone'],
    often: ['tag', 'town'],
  });
  expect(firstOffered([])).toEqual({ lately: [], often: [] });
});
