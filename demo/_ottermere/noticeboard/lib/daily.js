'use strict';

const { step, failed } = require('./trail');
const { mail } = require('./mail');

/** The daily run: collects the notice, prints it, mails it. */
async function daily(source, board, wardens, post) {
  step('run begins');
  let notice;
  try {
    notice = await source.collect();
  } catch (err) {
    failed('notice was not collected', err);
    return;
  }
  step(`notice ${notice.id} collected`);
  board.post(notice);
  await mail(notice, wardens, post);
  step('run ends');
}

module.exports = { daily };
