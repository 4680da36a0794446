// Prints, as JSON, the calls of console and logger that TypeScript's own
// parser finds. Usage: script_calls.js FOLDER-OF-TYPESCRIPT, with a file name a
// line on standard input; writes one object a file, as python_calls.py does.
const fs = require('fs');
const ts = require(process.argv[2]);
const K = ts.SyntaxKind;
const console_ = new Set(['log', 'info', 'warn', 'error', 'debug', 'trace', 'dir', 'table']);
const logger_ = new Set(['log', 'info', 'warn', 'error', 'debug', 'trace', 'verbose', 'fatal', 'notice']);
const failing = new Set(['catch', 'catchError', 'fail', 'tapCatch', 'onError']);
const events = new Set(['on', 'once', 'addListener', 'addEventListener', 'prependListener']);
const eventNames = new Set(['error', 'uncaughtException', 'unhandledRejection', 'clientError', 'tlsClientError']);
const keys = new Set(['error', 'onError', 'onerror', 'onFailure', 'onRejected', 'errorCallback']);

function errorName(n) {
  const bare = n.replace(/^[_$]+/, '');
  if (/^(is|has|on)[A-Z]/.test(n)) return false;
  if (['err', 'error', 'er', 'ex', 'exc', 'exception', 'cause', 'errs', 'failure', 'throwable'].includes(bare)) return true;
  const lower = n.toLowerCase();
  if (lower.length <= 4) return lower.endsWith('err');
  return /(Err|Error|Exception|Ex|Exc)$/.test(n) || /_(err|error|exc|exception)$/.test(lower) || /^err[A-Z0-9]/.test(n);
}

function strip(e) {
  while (e && e.kind === K.ParenthesizedExpression) e = e.expression;
  return e;
}

// truth of an error: +1 when the condition says that there is one, -1 when it
// says that there is none, 0 otherwise.
function condition(e) {
  let sign = 1;
  e = strip(e);
  while (e.kind === K.PrefixUnaryExpression && e.operator === K.ExclamationToken) { sign = -sign; e = strip(e.operand); }
  let compound = false;
  while (e.kind === K.BinaryExpression && e.operatorToken.kind === K.AmpersandAmpersandToken) {
    compound = true;
    e = e.left;
    while (e.kind === K.PrefixUnaryExpression && e.operator === K.ExclamationToken) { sign = -sign; e = e.operand; }
  }
  if (sign > 0 && !compound && e.kind === K.BinaryExpression && e.operatorToken.kind === K.BarBarToken) {
    let first = e;
    while (first.kind === K.BinaryExpression && first.operatorToken.kind === K.BarBarToken) first = strip(first.left);
    if (first.kind === K.BinaryExpression && first.operatorToken.kind === K.InstanceOfKeyword) e = first;
  }
  if (e.kind === K.Identifier) return errorName(e.text) ? (compound && sign < 0 ? 0 : sign) : 0;
  if (e.kind !== K.BinaryExpression || e.left.kind !== K.Identifier || !errorName(e.left.text)) return 0;
  const op = e.operatorToken.kind;
  if (op === K.InstanceOfKeyword) return sign < 0 ? 0 : 1;
  const nothing = e.right.kind === K.NullKeyword || (e.right.kind === K.Identifier && e.right.text === 'undefined');
  if (!nothing) return 0;
  if (op === K.EqualsEqualsToken || op === K.EqualsEqualsEqualsToken) sign = -sign;
  else if (op !== K.ExclamationEqualsToken && op !== K.ExclamationEqualsEqualsToken) return 0;
  return compound && sign < 0 ? 0 : sign;
}

function held(node) {
  const p = node.parent;
  if (ts.isVariableDeclaration(p) && p.initializer === node && ts.isIdentifier(p.name)) return p.name.text;
  if (ts.isPropertyAssignment(p) && p.initializer === node) return p.name.text || null;
  if (ts.isPropertyDeclaration(p) && p.initializer === node) return p.name.text || p.name.getText();
  if (ts.isBinaryExpression(p) && p.operatorToken.kind === K.EqualsToken && p.right === node) {
    if (ts.isPropertyAccessExpression(p.left)) return p.left.name.text;
    if (ts.isIdentifier(p.left)) return p.left.text;
  }
  if (ts.isParameter(p) && p.initializer === node && ts.isIdentifier(p.name)) return p.name.text;
  if (ts.isBindingElement(p) && p.initializer === node && ts.isIdentifier(p.name)) return p.name.text;
  return null;
}

function purpose(node, name) {
  const first = node.parameters[0];
  if (name !== null && keys.has(name) && (name !== 'error' || first && ts.isIdentifier(first.name) && (errorName(first.name.text) || first.name.text === 'e'))) return 'fail';
  const p = node.parent;
  if (!ts.isCallExpression(p) || !p.arguments.includes(node) || !ts.isPropertyAccessExpression(p.expression)) return '';
  const m = p.expression.name.text;
  if (failing.has(m)) return 'fail';
  if (m === 'forEach' || m === 'each') return 'loop';
  if (events.has(m) && p.arguments[0] && ts.isStringLiteralLike(p.arguments[0]) && eventNames.has(p.arguments[0].text)) return 'fail';
  const isStatic = ts.isIdentifier(p.expression.expression) && /^[A-Z]/.test(p.expression.expression.text);
  if ((m === 'then' || m === 'done' || m === 'subscribe') && p.arguments.indexOf(node) === (isStatic ? 2 : 1)) return 'fail';
  return '';
}

function fixed(e) {
  e = strip(e);
  if (ts.isStringLiteralLike(e) || ts.isNumericLiteral(e)) return true;
  return ts.isBinaryExpression(e) && e.operatorToken.kind === K.PlusToken && fixed(e.left) && fixed(e.right);
}

function text(e) {
  e = strip(e);
  if (ts.isStringLiteralLike(e) || ts.isTemplateExpression(e)) return true;
  return ts.isBinaryExpression(e) && e.operatorToken.kind === K.PlusToken && (text(e.left) || text(e.right));
}

function shape(e) {
  if (fixed(e)) return 'fixed';
  e = strip(e);
  if (ts.isTemplateExpression(e)) return 'interpolated';
  if (ts.isBinaryExpression(e) && e.operatorToken.kind === K.PlusToken && text(e)) return 'concatenated';
  return '';
}

function file(name) {
  const source = ts.createSourceFile(name, fs.readFileSync(name, 'utf8'), ts.ScriptTarget.Latest, true, /\.jsx?$|\.[mc]js$/.test(name) ? ts.ScriptKind.JSX : undefined);
  if (source.parseDiagnostics.length) return { file: name, error: String(source.parseDiagnostics[0].messageText) };
  const found = [];
  let fn = '', loop = false, fail = false;
  function scoped(change, nodes) {
    const saved = [fn, loop, fail];
    change();
    for (const n of nodes) if (n) visit(n);
    [fn, loop, fail] = saved;
  }
  function visit(node) {
    if (ts.isFunctionLike(node) && node.body) {
      for (const p of node.parameters) visit(p);
      if (node.decorators) node.decorators.forEach(visit);
      if (node.modifiers) node.modifiers.forEach(visit);
      let name = node.name ? (node.name.text !== undefined ? node.name.text : null) : held(node);
      if (ts.isConstructorDeclaration(node)) name = 'constructor';
      if (node.name && name === null) { const e = node.name.expression; name = e ? (e.getText().split(/[^\w$#]/)[0]) : ''; }
      const what = ts.isMethodDeclaration(node) || ts.isFunctionDeclaration(node) || (node.name && ts.isFunctionExpression(node)) ? '' : purpose(node, node.name ? null : name);
      scoped(() => {
        if (name !== null) { fn = name; loop = false; fail = false; }
        if (what === 'loop') loop = true;
        if (what === 'fail') fail = true;
      }, [node.body]);
      return;
    }
    if (ts.isClassLike(node)) {
      if (node.heritageClauses) node.heritageClauses.forEach(visit);
      scoped(() => { loop = false; fail = false; fn = ''; }, node.members);
      return;
    }
    if (ts.isClassStaticBlockDeclaration && ts.isClassStaticBlockDeclaration(node)) {
      scoped(() => { fn = ''; loop = false; fail = false; }, [node.body]);
      return;
    }
    switch (node.kind) {
      case K.ForStatement: case K.WhileStatement: case K.DoStatement:
        for (const c of [node.initializer, node.condition, node.incrementor, node.expression]) if (c) visit(c);
        scoped(() => { loop = true; }, [node.statement]);
        return;
      case K.ForOfStatement: case K.ForInStatement:
        visit(node.initializer); visit(node.expression);
        scoped(() => { loop = true; }, [node.statement]);
        return;
      case K.CatchClause:
        scoped(() => { fail = true; }, [node.block]);
        return;
      case K.IfStatement: {
        visit(node.expression);
        const c = condition(node.expression);
        scoped(() => { if (c > 0) fail = true; }, [node.thenStatement]);
        scoped(() => { if (c < 0) fail = true; }, [node.elseStatement]);
        return;
      }
      case K.CallExpression: call(node);
    }
    ts.forEachChild(node, visit);
  }
  function call(node) {
    const f = node.expression;
    if (ts.isElementAccessExpression(f) && ts.isIdentifier(f.expression) && f.expression.text === 'logger' && ts.isIdentifier(f.argumentExpression) && node.arguments.length > 0) { // logger[level]('…')
      const at = source.getLineAndCharacterOfPosition(f.getStart(source));
      const column = Buffer.byteLength(source.text.slice(source.getPositionOfLineAndCharacter(at.line, 0), f.getStart(source))) + 1;
      found.push([at.line + 1, column, '[' + f.argumentExpression.text + ']', fn, loop, fail, shape(node.arguments[0])]);
      return;
    }
    if (!ts.isPropertyAccessExpression(f)) return;
    const m = f.name.text, r = f.expression;
    const isConsole = ts.isIdentifier(r) && r.text === 'console' && console_.has(m);
    const isLogger = node.arguments.length > 0 && logger_.has(m) && (ts.isIdentifier(r) && r.text === 'logger' || ts.isPropertyAccessExpression(r) && r.name.text === 'logger' && r.expression.kind === K.ThisKeyword);
    if (!isConsole && !isLogger) return;
    const start = node.getStart(source);
    const at = source.getLineAndCharacterOfPosition(start);
    const column = Buffer.byteLength(source.text.slice(start - at.character, start)) + 1;
    found.push([at.line + 1, column, m, fn, loop, fail, isLogger && node.arguments.length === 1 ? shape(node.arguments[0]) : '']);
  }
  visit(source);
  return { file: name, calls: found };
}

for (const name of fs.readFileSync(0, 'utf8').split('\n')) {
  if (!name) continue;
  try {
    console.log(JSON.stringify(file(name)));
  } catch (e) {
    console.log(JSON.stringify({ file: name, error: String(e) }));
  }
}
