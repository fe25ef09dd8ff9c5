const { statSync } = require('node:fs');
const { default: Sequencer } = require('@jest/test-sequencer');

/** Where the tests take long, the longest first: real servers, databases, the built program. What is left is over at once. */
const SLOW = ['cms-extensions', '/servers/', 'madeup', '/database/', '/cli/', ''];
const rank = ({ path }) => SLOW.findIndex((part) => path.includes(part));

/** A fresh clone does not know how long each file took: without this the longest one may begin last, with one processor idle beside it. */
module.exports = class extends Sequencer {
  sort(tests) { return [...tests].sort((a, b) => rank(a) - rank(b) || statSync(b.path).size - statSync(a.path).size); }
};
