<?php
// Prints, as JSON, the logging calls that PHP's own parser finds, by way of the extension ast.
//
// Usage: php_calls.php, with names of files on the standard input; for each one line:
// {"file": …, "calls": [[line, column, method, function, in a loop, in a handler, shape], …]} or
// {"file": …, "error": …}. Receivers: $logger, $this->logger; bare error_log and var_dump.

const LEVELS = ['debug', 'info', 'notice', 'warning', 'error', 'critical', 'alert', 'emergency', 'log'];
const BARE = ['error_log', 'var_dump'];

final class Finder
{
    public array $calls = [];
    private string $function = '';
    private bool $loop = false;
    private bool $fail = false;

    public function __construct(private array $places)
    {
    }

    public function visit($node): void
    {
        if (!$node instanceof ast\Node) {
            return;
        }
        switch ($node->kind) {
            case ast\AST_FUNC_DECL:
            case ast\AST_METHOD:
                $saved = [$this->function, $this->loop, $this->fail];
                [$this->function, $this->loop, $this->fail] = [$node->children['name'], false, false];
                $this->children($node);
                [$this->function, $this->loop, $this->fail] = $saved;
                return;
            case ast\AST_CLASS:
                $saved = [$this->function, $this->loop, $this->fail];
                [$this->function, $this->loop, $this->fail] = ['', false, false];
                $this->children($node);
                [$this->function, $this->loop, $this->fail] = $saved;
                return;
            case ast\AST_FOREACH:
                $this->visit($node->children['expr']);
                $this->within('loop', $node->children['stmts']);
                return;
            case ast\AST_FOR:
            case ast\AST_WHILE:
            case ast\AST_DO_WHILE:
                foreach ($node->children as $name => $child) {
                    $name === 'stmts' ? $this->within('loop', $child) : $this->visit($child);
                }
                return;
            case ast\AST_CATCH:
                $this->within('fail', $node->children['stmts']);
                return;
            case ast\AST_METHOD_CALL:
            case ast\AST_NULLSAFE_METHOD_CALL:
                $method = $node->children['method'];
                if (is_string($method) && in_array($method, LEVELS, true) && $this->logger($node->children['expr'])) {
                    $this->add($node, $method);
                }
                break;
            case ast\AST_CALL:
                $name = $node->children['expr'];
                if ($name->kind === ast\AST_NAME && in_array($name->children['name'], BARE, true)) {
                    $this->add($node, $name->children['name'], false);
                }
                break;
        }
        $this->children($node);
    }

    private function children(ast\Node $node): void
    {
        foreach ($node->children as $child) {
            $this->visit($child);
        }
    }

    private function within(string $flag, $node): void
    {
        $saved = $this->$flag;
        $this->$flag = true;
        $this->visit($node);
        $this->$flag = $saved;
    }

    private function logger($node): bool
    {
        if (!$node instanceof ast\Node) {
            return false;
        }
        if ($node->kind === ast\AST_VAR) {
            return $node->children['name'] === 'logger';
        }
        return $node->kind === ast\AST_PROP && $node->children['prop'] === 'logger' && $node->children['expr'] instanceof ast\Node
            && $node->children['expr']->kind === ast\AST_VAR && $node->children['expr']->children['name'] === 'this';
    }

    private function add(ast\Node $node, string $method, bool $judged = true): void
    {
        $place = array_shift($this->places[$method]);
        if ($place === null) {
            return;
        }
        $args = $node->children['args']->kind === ast\AST_ARG_LIST ? $node->children['args']->children : [];
        $at = $method === 'log' ? 1 : 0;
        $this->calls[] = [$place[0], $place[1], $method, $this->function, $this->loop, $this->fail, $judged && isset($args[$at]) ? $this->shape($args[$at]) : ''];
    }

    private function shape($a): string
    {
        if (is_string($a)) {
            return 'fixed';
        }
        if (!$a instanceof ast\Node) {
            return '';
        }
        switch ($a->kind) {
            case ast\AST_ENCAPS_LIST:
                return 'interpolated';
            case ast\AST_BINARY_OP:
                return $a->flags === ast\flags\BINARY_CONCAT ? ($this->constant($a) ? 'fixed' : ($this->text($a) ? 'concatenated' : '')) : '';
            case ast\AST_CALL:
                $n = $a->children['expr'];
                return $n->kind === ast\AST_NAME && in_array($n->children['name'], ['sprintf', 'vsprintf'], true) ? 'formatted' : '';
        }
        return '';
    }

    private function constant($a): bool
    {
        return is_string($a) || $a instanceof ast\Node && $a->kind === ast\AST_BINARY_OP && $this->constant($a->children['left']) && $this->constant($a->children['right']);
    }

    private function text($a): bool
    {
        return is_string($a) || $a instanceof ast\Node && ($a->kind === ast\AST_ENCAPS_LIST || $a->kind === ast\AST_BINARY_OP && ($this->text($a->children['left']) || $this->text($a->children['right'])));
    }
}

/** The places where calls by each name begin, in the order of the text. */
function places(string $text): array
{
    $tokens = array_values(array_filter(PhpToken::tokenize($text), fn ($t) => !$t->isIgnorable()));
    $places = [];
    $lines = [0];
    for ($at = strpos($text, "\n"); $at !== false; $at = strpos($text, "\n", $at + 1)) {
        $lines[] = $at + 1;
    }
    $column = fn ($t) => [$t->line, $t->pos - $lines[$t->line - 1] + 1];
    foreach ($tokens as $i => $t) {
        if (($tokens[$i + 1]->text ?? '') !== '(') {
            continue;
        }
        $before = $tokens[$i - 1]->text ?? '';
        $arrow = fn ($k) => in_array($tokens[$k]->text ?? '', ['->', '?->'], true);
        if (in_array($t->text, BARE, true) && !in_array($before, ['->', '?->', '::', 'function'], true)) {
            $places[$t->text][] = $column($t);
        } elseif (in_array($t->text, LEVELS, true) && $arrow($i - 1)) {
            $r = $tokens[$i - 2]->text ?? '';
            if ($r === '$logger' && !in_array($tokens[$i - 3]->text ?? '', ['::'], true)) {
                $places[$t->text][] = $column($tokens[$i - 2]);
            } elseif ($r === 'logger' && $arrow($i - 3) && ($tokens[$i - 4]->text ?? '') === '$this') {
                $places[$t->text][] = $column($tokens[$i - 4]);
            }
        }
    }
    return $places;
}

foreach (explode("\n", trim(stream_get_contents(STDIN))) as $file) {
    try {
        $text = file_get_contents($file);
        $finder = new Finder(places($text));
        $finder->visit(ast\parse_code($text, 90));
        echo json_encode(['file' => $file, 'calls' => $finder->calls]), "\n";
    } catch (Throwable $e) {
        echo json_encode(['file' => $file, 'error' => 'not read']), "\n";
    }
}
