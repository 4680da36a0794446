package lang

// Python 3.
var Python = Spec{
	Name:         "python",
	Extensions:   []string{".py", ".pyw", ".pyi"},
	Filenames:    []string{"SConstruct", "SConscript", "wscript"},
	Interpreters: []string{"python", "pypy", "ipython"},
	Features:     IndentBlocks | NewlineEnds | PrefixedStrings | PercentOperator | Decorators | JoinedStrings,
	LineComments: []string{"#"},
	Strings: []String{
		{Open: `"""`, Close: `"""`, Form: Lines},
		{Open: `'''`, Close: `'''`, Form: Lines},
		{Open: `"`, Close: `"`},
		{Open: `'`, Close: `'`},
	},
	Keywords: map[Role]string{
		If: "if", Elif: "elif", Else: "else", For: "for", While: "while",
		Try: "try", Catch: "except", Finally: "finally", Func: "def", Lambda: "lambda",
		Class: "class", Import: "import", From: "from", Return: "return", Throw: "raise",
		Await: "await async", Jump: "break continue pass", With: "with", Yield: "yield",
		Word: "as global nonlocal del", Literal: "True False None",
		Operator: "and or not in is", Assert: "assert",
	},
}

// Java.
var Java = Spec{
	Name:         "java",
	Extensions:   []string{".java"},
	Features:     BraceBlocks | TypedFuncs | AnonymousTypes | CaseScopes | Decorators | DirectivePrologue,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	IdentBytes: "$",
	Strings: []String{
		{Open: `"""`, Close: `"""`, Form: Lines},
		{Open: `"`, Close: `"`},
		{Open: `'`, Close: `'`, Form: Char},
	},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "switch", Case: "case",
		Default: "default", Try: "try", Catch: "catch", Finally: "finally", Class: "class interface enum",
		Import: "import", Package: "package", Return: "return", Throw: "throw", New: "new",
		Jump: "break continue", With: "synchronized", Modifier: "private protected static final abstract native transient volatile strictfp",
		Public: "public", Literal: "true false null", Self: "this super", Assert: "assert",
		Operator: "instanceof", Throws: "throws extends implements",
		Word: "void boolean byte char short int long float double",
	},
	FailureCalls: []string{"exceptionally", "exceptionallyAsync", "exceptionallyCompose", "onErrorResume", "onErrorReturn", "doOnError", "onFailure", "onErrorContinue", "onErrorMap", "recover"},
	LoopCalls:    []string{"forEach", "forEachOrdered", "forEachRemaining"},
}

// CSharp is C#.
var CSharp = Spec{
	Name:         "csharp",
	Extensions:   []string{".cs", ".csx"},
	Features:     BraceBlocks | TypedFuncs | CaseScopes | Properties | PreprocessorLine | CountedQuotes | DirectivePrologue,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	IdentBytes: "",
	Strings: []String{
		{Open: `$@"`, Close: `"`, Form: Raw | Lines | Doubled | Braces | FormatEnd},
		{Open: `@$"`, Close: `"`, Form: Raw | Lines | Doubled | Braces | FormatEnd},
		{Open: `@"`, Close: `"`, Form: Raw | Lines | Doubled},
		{Open: `$"`, Close: `"`, Form: Braces | FormatEnd},
		{Open: `"`, Close: `"`},
		{Open: `'`, Close: `'`, Form: Char},
	},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for foreach", While: "while", Do: "do", Switch: "switch", Case: "case",
		Default: "default", Try: "try", Catch: "catch", Finally: "finally", Class: "class interface enum struct",
		Namespace: "namespace", Return: "return", Throw: "throw", New: "new", Await: "await",
		Jump: "break continue goto", With: "lock using fixed checked unchecked unsafe",
		Modifier: "private protected internal static readonly abstract virtual override sealed extern const volatile ref out in params async",
		Public:   "public", Literal: "true false null", Self: "this base", Operator: "is as typeof sizeof nameof stackalloc",
		Lambda: "delegate", Word: "void bool byte sbyte char short ushort int uint long ulong float double decimal string object event operator implicit explicit",
	},
	FailureCalls: []string{"OnError", "OnFailure", "OnException"},
	LoopCalls:    []string{"ForEach"},
}

var scriptStrings = []String{
	{Open: "`", Close: "`", Form: Lines | DollarVar},
	{Open: `"`, Close: `"`},
	{Open: `'`, Close: `'`},
}

var scriptKeywords = map[Role]string{
	If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "switch", Case: "case",
	Default: "default", Try: "try", Catch: "catch", Finally: "finally", Func: "function", Class: "class",
	Import: "import", Package: "export", Return: "return", Throw: "throw", New: "new", Await: "await",
	Var: "let var", Const: "const", Jump: "break continue", With: "with", Yield: "yield",
	Literal: "true false null undefined", Self: "this super", Debugger: "debugger",
	Operator: "typeof instanceof in void delete", Throws: "extends",
}

// JavaScript with JSX.
var JavaScript = Spec{
	Name:         "javascript",
	Extensions:   []string{".js", ".jsx", ".mjs", ".cjs", ".es6"},
	Filenames:    []string{"Jakefile"},
	Interpreters: []string{"node", "nodejs", "deno", "bun"},
	Features:     BraceBlocks | NewlineEnds | RegexLiterals | Markup | NamedMethods | CaseScopes | ErrorFirst | ConstantLambdas | Decorators | TypeSuffix, // Flow writes types as TypeScript does
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	IdentBytes:    "$#",
	Strings:       scriptStrings,
	Keywords:      scriptKeywords,
	FailureCalls:  scriptFailureCalls,
	LoopCalls:     scriptLoopCalls,
	EventCalls:    scriptEventCalls,
	FailureEvents: scriptFailureEvents,
	FailureKeys:   scriptFailureKeys,
	SecondHandler: []string{"then", "done", "subscribe"},
}

var (
	scriptFailureCalls  = []string{"catch", "catchError", "fail", "tapCatch", "onError"}
	scriptLoopCalls     = []string{"forEach", "each"}
	scriptEventCalls    = []string{"on", "once", "addListener", "addEventListener", "prependListener"}
	scriptFailureEvents = []string{"error", "uncaughtException", "unhandledRejection", "clientError", "tlsClientError"}
	scriptFailureKeys   = []string{"error", "onError", "onerror", "onFailure", "onRejected", "errorCallback"}
)

// TypeScript without markup.
var TypeScript = Spec{
	Name:         "typescript",
	Extensions:   []string{".ts", ".mts", ".cts"},
	Interpreters: []string{"ts-node", "tsx"},
	Features:     (JavaScript.Features | TypeSuffix) &^ Markup,
	LineComments: JavaScript.LineComments,
	BlockOpen:    "/*", BlockClose: "*/",
	IdentBytes:    "$#",
	Strings:       scriptStrings,
	Keywords:      typeScriptKeywords,
	FailureCalls:  scriptFailureCalls,
	LoopCalls:     scriptLoopCalls,
	EventCalls:    scriptEventCalls,
	FailureEvents: scriptFailureEvents,
	FailureKeys:   scriptFailureKeys,
	SecondHandler: []string{"then", "done", "subscribe"},
}

// TSX is TypeScript with markup.
var TSX = Spec{
	Name:         "typescript",
	Extensions:   []string{".tsx"},
	Features:     JavaScript.Features | TypeSuffix | TypeArrows,
	LineComments: JavaScript.LineComments,
	BlockOpen:    "/*", BlockClose: "*/",
	IdentBytes:    "$#",
	Strings:       scriptStrings,
	Keywords:      typeScriptKeywords,
	FailureCalls:  scriptFailureCalls,
	LoopCalls:     scriptLoopCalls,
	EventCalls:    scriptEventCalls,
	FailureEvents: scriptFailureEvents,
	FailureKeys:   scriptFailureKeys,
	SecondHandler: []string{"then", "done", "subscribe"},
}

var typeScriptKeywords = scriptKeywords

// Go.
var Go = Spec{
	Name:         "go",
	Extensions:   []string{".go"},
	Features:     BraceBlocks | NewlineEnds | BareHeaders | ReceiverFuncs | CaseScopes | ErrorValues | ErrorText,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	Strings: []String{
		{Open: `"`, Close: `"`},
		{Open: "`", Close: "`", Form: Raw | Lines},
		{Open: `'`, Close: `'`, Form: Char},
	},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", Switch: "switch select", Case: "case", Default: "default",
		Func: "func", TypeDecl: "type", Struct: "struct interface", Import: "import", Package: "package",
		Return: "return", Jump: "break continue goto fallthrough", Defer: "defer go", Var: "var", Const: "const",
		Literal: "true false nil iota", Operator: "range chan map",
	},
}
