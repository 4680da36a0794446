"""Prints, as JSON, the logging calls that Python's own parser finds.

Usage: python_calls.py FILE…; for each file one line: {"file": …, "calls": [[line, column, method,
function, in a loop, in a handler, shape], …]} or {"file": …, "error": …}. Receivers: names that the file
binds to logging.getLogger(…) or imports as the module logging; bare print.
"""
import ast
import json
import sys

LEVELS = {"debug", "info", "warning", "warn", "error", "critical", "fatal", "exception", "log"}


def fixed(node):
    return isinstance(node, ast.Constant) and isinstance(node.value, (str, bytes))


def has_text(node):
    if isinstance(node, ast.BinOp):
        return has_text(node.left) or has_text(node.right)
    return isinstance(node, ast.JoinedStr) or fixed(node)


def constant(node):
    if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Add):
        return constant(node.left) and constant(node.right)
    return isinstance(node, ast.Constant)


def shape(node):
    if constant(node):
        return "fixed"
    if isinstance(node, ast.JoinedStr):
        return "interpolated" if any(isinstance(v, ast.FormattedValue) for v in node.values) else "fixed"
    if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Mod) and has_text(node.left):
        return "formatted"
    if isinstance(node, ast.BinOp) and isinstance(node.op, ast.Add) and has_text(node):
        return "concatenated"
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr == "format" and has_text(node.func.value):
        return "formatted"
    return "opaque"


class Finder(ast.NodeVisitor):
    def __init__(self, tree):
        self.calls, self.function, self.loop, self.handler = [], "", False, False
        self.loggers = set()
        for node in ast.walk(tree):
            if isinstance(node, ast.Import):
                for a in node.names:
                    if a.name == "logging":
                        self.loggers.add(a.asname or "logging")
            if isinstance(node, ast.Assign) and isinstance(node.value, ast.Call):
                f = node.value.func
                if isinstance(f, ast.Attribute) and f.attr == "getLogger" and isinstance(f.value, ast.Name) and f.value.id == "logging":
                    for t in node.targets:
                        if isinstance(t, ast.Name):
                            self.loggers.add(t.id)

    def visit_FunctionDef(self, node):
        for part in node.decorator_list + node.args.defaults + [d for d in node.args.kw_defaults if d]:
            self.visit(part)
        saved = self.function, self.loop, self.handler
        self.function, self.loop, self.handler = node.name, False, False
        for part in node.body:
            self.visit(part)
        self.function, self.loop, self.handler = saved

    visit_AsyncFunctionDef = visit_FunctionDef

    def visit_ClassDef(self, node):
        saved = self.function, self.loop, self.handler
        self.function, self.loop, self.handler = "", False, False
        self.generic_visit(node)
        self.function, self.loop, self.handler = saved

    def visit_For(self, node):
        if not isinstance(node, ast.While):
            self.visit(node.target)
            self.visit(node.iter)
        saved, self.loop = self.loop, True
        for part in node.body:
            self.visit(part)
        self.loop = saved
        for part in node.orelse:
            self.visit(part)

    visit_AsyncFor = visit_For

    def visit_While(self, node):
        self.visit(node.test)
        self.visit_For(node)

    def visit_ExceptHandler(self, node):
        saved, self.handler = self.handler, True
        for part in node.body:
            self.visit(part)
        self.handler = saved

    def visit_Call(self, node):
        f = node.func
        text = ""
        if isinstance(f, ast.Attribute) and f.attr in LEVELS and isinstance(f.value, ast.Name) and f.value.id in self.loggers:
            at = 1 if f.attr == "log" else 0
            positional = [a for a in node.args if not isinstance(a, ast.Starred)]
            text = shape(node.args[at]) if len(positional) > at else "bare"
            self.add(node, f.attr, text)
        elif isinstance(f, ast.Name) and f.id == "print" and all(k.arg != "file" or ast.unparse(k.value).startswith("sys.") for k in node.keywords):
            self.add(node, "print", "")
        self.generic_visit(node)

    def add(self, node, method, text):
        self.calls.append([node.lineno, node.col_offset + 1, method, self.function, self.loop, self.handler, text])


for name in sys.stdin.read().splitlines():
    try:
        with open(name, "rb") as source:
            tree = ast.parse(source.read())
        finder = Finder(tree)
        finder.visit(tree)
        print(json.dumps({"file": name, "calls": finder.calls}))
    except (SyntaxError, ValueError, RecursionError) as e:
        print(json.dumps({"file": name, "error": str(e)}))
