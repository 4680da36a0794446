package lang

var jvmFailureCalls = []string{"exceptionally", "exceptionallyAsync", "onErrorResume", "onErrorReturn", "doOnError", "onFailure", "onErrorContinue", "recover", "recoverWith", "getOrElse", "handleError", "catchError", "onException", "mapError"}

// Kotlin.
var Kotlin = Spec{
	Name:         "kotlin",
	Extensions:   []string{".kt", ".kts"},
	Features:     BraceBlocks | NewlineEnds | TypeSuffix | KeywordFuncs | Blocks | NestedComments | Decorators | JoinedStrings,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	Strings: []String{
		{Open: `"""`, Close: `"""`, Form: Raw | Lines | DollarVar | DollarName},
		{Open: `"`, Close: `"`, Form: DollarVar | DollarName},
		{Open: `'`, Close: `'`, Form: Char},
	},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "when", Try: "try", Catch: "catch", Finally: "finally",
		Func: "fun", Class: "class interface object", Import: "import", Package: "package", Return: "return", Throw: "throw",
		Var: "val var", Jump: "break continue", Modifier: "private protected internal public open abstract override final sealed data inner companion suspend inline infix operator lateinit const external tailrec vararg noinline crossinline enum annotation actual expect",
		Literal: "true false null", Self: "this super", Operator: "is as in",
	},
	FailureCalls: jvmFailureCalls,
	LoopCalls:    []string{"forEach", "forEachIndexed", "onEach", "repeat"},
}

// Scala 2 and 3.
var Scala = Spec{
	Name:         "scala",
	Extensions:   []string{".scala", ".sc", ".sbt"},
	Features:     BraceBlocks | NewlineEnds | TypeSuffix | KeywordFuncs | Blocks | NestedComments | Decorators | OptionalBraces | CaseScopes | Lifetimes,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	Strings: []String{
		{Open: `"""`, Close: `"""`, Form: Raw | Lines},
		{Open: `"`, Close: `"`},
		{Open: `'`, Close: `'`, Form: Char},
	},
	IdentBytes: "$",
	Prefixes:   map[string]Form{"*": DollarVar | DollarName},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "match", Case: "case", Try: "try", Catch: "catch", Finally: "finally",
		Func: "def", Class: "class trait object enum", Import: "import", Package: "package", Return: "return", Throw: "throw", New: "new", Yield: "yield",
		Var: "val var", Modifier: "private protected override final sealed abstract implicit lazy inline given opaque",
		Literal: "true false null", Self: "this super", Throws: "extends with", TypeDecl: "type",
	},
	FailureCalls: jvmFailureCalls,
	LoopCalls:    []string{"foreach"},
}

// Groovy.
var Groovy = Spec{
	Name:         "groovy",
	Extensions:   []string{".groovy", ".gradle", ".gvy", ".gy", ".gsh"},
	Filenames:    []string{"Jenkinsfile"},
	Interpreters: []string{"groovy"},
	Features:     BraceBlocks | NewlineEnds | TypedFuncs | Properties | CaseScopes | Decorators | Blocks | CommandCalls | RegexLiterals | SlashStrings,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	IdentBytes: "$",
	Strings: []String{
		{Open: `"""`, Close: `"""`, Form: Lines | DollarVar | DollarName},
		{Open: `'''`, Close: `'''`, Form: Lines},
		{Open: `"`, Close: `"`, Form: DollarVar | DollarName},
		{Open: `'`, Close: `'`},
	},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "switch", Case: "case", Default: "default",
		Try: "try", Catch: "catch", Finally: "finally", Class: "class interface enum trait", Import: "import", Package: "package",
		Return: "return", Throw: "throw", New: "new", Jump: "break continue", With: "synchronized",
		Modifier: "private protected static final abstract native transient volatile def", Public: "public",
		Literal: "true false null", Self: "this super", Assert: "assert", Operator: "instanceof in as", Throws: "throws extends implements",
		Word: "void boolean byte char short int long float double",
	},
	FailureCalls: jvmFailureCalls,
	LoopCalls:    []string{"each", "eachWithIndex", "times", "upto", "eachLine", "forEach"},
}
