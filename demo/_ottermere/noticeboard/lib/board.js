'use strict';

const winston = require('winston');

const logger = winston.createLogger({ level: 'debug', transports: [new winston.transports.Console()] });

class Board {
  constructor(printer, session) {
    this.printer = printer;
    this.session = session;
  }

  post(notice) {
    logger.info('posting notice ' + notice.id + ' for ' + notice.day);
    debugger;
    this.printer.print(notice.text, (err, sheet) => {
      if (err) {
        logger.error('notice was not printed: ' + err.message);
        return;
      }
      logger.info('printed', { sheet: sheet.number });
    });
  }

  open(sessionCookie) {
    logger.debug('board opened', { sessionCookie });
    logger.warn('Started the board');
  }

  clear(day) {
    return this.printer.clear(day).catch(() => {});
  }

  status(day) {
    logger.error('???');
    console.log(JSON.stringify(this.session));
    return this.printer.state(day);
  }
}

module.exports = { Board };
