import com.sun.source.tree.*;
import com.sun.source.util.*;
import java.io.*;
import java.nio.charset.StandardCharsets;
import java.nio.file.*;
import java.util.*;
import javax.tools.*;

/** Prints, as JSON, the logging calls that javac's own parser finds; a file name a line on standard input. */
public class JavaCalls {
    static final Set<String> LEVELS = Set.of("trace", "debug", "info", "warn", "error", "fatal", "finest", "finer", "fine", "warning", "severe");
    static final Set<String> PRINTS = Set.of("println", "print", "printf", "format", "write", "append");
    static final Set<String> FAILING = Set.of("exceptionally", "exceptionallyAsync", "exceptionallyCompose", "onErrorResume", "onErrorReturn", "doOnError", "onFailure", "onErrorContinue", "onErrorMap", "recover");
    static final Set<String> LOOPING = Set.of("forEach", "forEachOrdered", "forEachRemaining");
    static final Set<String> LOGGERS = Set.of("org.slf4j.Logger", "org.apache.logging.log4j.Logger", "org.apache.log4j.Logger", "java.util.logging.Logger", "org.apache.commons.logging.Log", "org.apache.juli.logging.Log", "org.jboss.logging.Logger");

    public static void main(String[] args) throws Exception {
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        StandardJavaFileManager manager = compiler.getStandardFileManager(d -> { }, null, StandardCharsets.UTF_8);
        BufferedReader in = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        PrintStream out = new PrintStream(new FileOutputStream(FileDescriptor.out), true, "UTF-8");
        for (String name; (name = in.readLine()) != null; ) {
            try {
                boolean[] broken = {false};
                JavacTask task = (JavacTask) compiler.getTask(null, manager, d -> broken[0] |= d.getKind() == Diagnostic.Kind.ERROR, List.of("-proc:none"), null, manager.getJavaFileObjects(name));
                for (CompilationUnitTree unit : task.parse()) {
                    if (broken[0]) {
                        out.println("{\"file\": \"" + name + "\", \"error\": \"syntax\"}");
                        continue;
                    }
                    Finder finder = new Finder(unit, Trees.instance(task).getSourcePositions(), Files.readAllBytes(Path.of(name)));
                    finder.scan(unit, null);
                    out.println("{\"file\": \"" + name + "\", \"calls\": [" + String.join(", ", finder.found) + "]}");
                }
            } catch (Exception | StackOverflowError e) {
                out.println("{\"file\": \"" + name + "\", \"error\": \"" + e.getClass() + "\"}");
            }
        }
    }

    static class Finder extends TreeScanner<Void, Void> {
        final CompilationUnitTree unit;
        final SourcePositions positions;
        final String text;
        final List<String> found = new ArrayList<>();
        final Set<String> loggers = new HashSet<>();
        String function = "";
        boolean loop, fail;

        Finder(CompilationUnitTree unit, SourcePositions positions, byte[] bytes) throws IOException {
            this.unit = unit;
            this.positions = positions;
            this.text = unit.getSourceFile().getCharContent(true).toString();
            Set<String> types = new HashSet<>();
            for (ImportTree i : unit.getImports()) {
                if (LOGGERS.contains(i.getQualifiedIdentifier().toString())) {
                    String q = i.getQualifiedIdentifier().toString();
                    types.add(q.substring(q.lastIndexOf('.') + 1));
                }
            }
            new TreeScanner<Void, Void>() {
                @Override public Void visitVariable(VariableTree v, Void x) {
                    if (v.getType() != null && types.contains(v.getType().toString())) {
                        loggers.add(v.getName().toString());
                    }
                    return super.visitVariable(v, x);
                }
            }.scan(unit, null);
        }

        void inside(String name, boolean l, boolean f, Runnable walk) {
            String savedName = function;
            boolean savedLoop = loop, savedFail = fail;
            function = name;
            loop = l;
            fail = f;
            walk.run();
            function = savedName;
            loop = savedLoop;
            fail = savedFail;
        }

        @Override public Void visitClass(ClassTree c, Void x) {
            if (c.getSimpleName().length() == 0) {
                return super.visitClass(c, x);
            }
            inside("", false, false, () -> super.visitClass(c, x));
            return null;
        }

        String type = "";

        @Override public Void visitMethod(MethodTree m, Void x) {
            String name = m.getName().toString();
            if (name.equals("<init>")) {
                long at = positions.getStartPosition(unit, m);
                String head = text.substring((int) at, Math.min(text.length(), (int) positions.getEndPosition(unit, m)));
                head = head.replaceAll("^(\\s|@\\w+(\\([^)]*\\))?|public|private|protected|<[^(]*>)*", "");
                name = head.split("[^\\w$]")[0];
            }
            inside(name, false, false, () -> super.visitMethod(m, x));
            return null;
        }

        @Override public Void visitVariable(VariableTree v, Void x) {
            if (v.getInitializer() instanceof LambdaExpressionTree && function.isEmpty() && v.getModifiers() != null && !loop && !fail) {
                inside(v.getName().toString(), false, false, () -> super.visitVariable(v, x));
                return null;
            }
            return super.visitVariable(v, x);
        }

        @Override public Void visitForLoop(ForLoopTree n, Void x) {
            scan(n.getInitializer(), x);
            scan(n.getCondition(), x);
            scan(n.getUpdate(), x);
            inside(function, true, fail, () -> scan(n.getStatement(), x));
            return null;
        }

        @Override public Void visitEnhancedForLoop(EnhancedForLoopTree n, Void x) {
            scan(n.getExpression(), x);
            inside(function, true, fail, () -> scan(n.getStatement(), x));
            return null;
        }

        @Override public Void visitWhileLoop(WhileLoopTree n, Void x) {
            scan(n.getCondition(), x);
            inside(function, true, fail, () -> scan(n.getStatement(), x));
            return null;
        }

        @Override public Void visitDoWhileLoop(DoWhileLoopTree n, Void x) {
            scan(n.getCondition(), x);
            inside(function, true, fail, () -> scan(n.getStatement(), x));
            return null;
        }

        @Override public Void visitCatch(CatchTree n, Void x) {
            inside(function, loop, true, () -> scan(n.getBlock(), x));
            return null;
        }

        @Override public Void visitMethodInvocation(MethodInvocationTree n, Void x) {
            String method = n.getMethodSelect() instanceof MemberSelectTree s ? s.getIdentifier().toString() : "";
            if (n.getMethodSelect() instanceof MemberSelectTree select) {
                String receiver = select.getExpression().toString();
                boolean log = select.getExpression() instanceof IdentifierTree && loggers.contains(receiver) && LEVELS.contains(method);
                boolean print = (receiver.equals("System.out") || receiver.equals("System.err")) && PRINTS.contains(method);
                if (log || print) {
                    add(n, method, log && !n.getArguments().isEmpty() ? shape(n.getArguments().get(0)) : "");
                }
            }
            boolean lambdaLoop = LOOPING.contains(method), lambdaFail = FAILING.contains(method);
            scan(n.getMethodSelect(), x);
            for (ExpressionTree a : n.getArguments()) {
                if (a instanceof LambdaExpressionTree && (lambdaLoop || lambdaFail)) {
                    inside(function, loop || lambdaLoop, fail || lambdaFail, () -> scan(a, x));
                } else {
                    scan(a, x);
                }
            }
            return null;
        }

        void add(Tree n, String method, String shape) {
            int at = (int) positions.getStartPosition(unit, n);
            int line = (int) unit.getLineMap().getLineNumber(at);
            int from = text.lastIndexOf('\n', at - 1) + 1;
            int column = text.substring(from, at).getBytes(StandardCharsets.UTF_8).length + 1;
            found.add(String.format("[%d, %d, \"%s\", \"%s\", %b, %b, \"%s\"]", line, column, method, function, loop, fail, shape));
        }

        static boolean fixed(Tree e) {
            if (e instanceof ParenthesizedTree p) {
                return fixed(p.getExpression());
            }
            if (e instanceof BinaryTree b && e.getKind() == Tree.Kind.PLUS) {
                return fixed(b.getLeftOperand()) && fixed(b.getRightOperand());
            }
            return e instanceof LiteralTree;
        }

        static boolean textual(Tree e) {
            if (e instanceof ParenthesizedTree p) {
                return textual(p.getExpression());
            }
            if (e instanceof BinaryTree b && e.getKind() == Tree.Kind.PLUS) {
                return textual(b.getLeftOperand()) || textual(b.getRightOperand());
            }
            return e.getKind() == Tree.Kind.STRING_LITERAL;
        }

        static String shape(Tree e) {
            if (fixed(e)) {
                return "fixed";
            }
            if (e instanceof BinaryTree && e.getKind() == Tree.Kind.PLUS && textual(e)) {
                return "concatenated";
            }
            if (e instanceof MethodInvocationTree m && m.getMethodSelect().toString().equals("String.format")) {
                return "formatted";
            }
            return "";
        }
    }
}
