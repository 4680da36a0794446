package lang

// PHP.
var PHP = Spec{
	Name:         "php",
	Extensions:   []string{".php", ".phtml", ".php5", ".php7", ".inc", ".module", ".install"},
	Interpreters: []string{"php"},
	Features:     BraceBlocks | KeywordFuncs | CaseFold | Islands | HereText | CaseScopes | Decorators | AnonymousTypes | CommandCalls,
	LineComments: []string{"//", "#"},
	BlockOpen:    "/*", BlockClose: "*/",
	IdentBytes: "$\\",
	Strings: []String{
		{Open: `"`, Close: `"`, Form: Lines | DollarName | DollarVar | BraceDollar},
		{Open: `'`, Close: `'`, Form: Lines},
		{Open: "`", Close: "`", Form: Lines},
	},
	Keywords: map[Role]string{
		If: "if", Else: "else", Elif: "elseif", For: "for foreach", While: "while", Do: "do", Switch: "switch match", Case: "case", Default: "default",
		Try: "try", Catch: "catch", Finally: "finally", Func: "function fn", Class: "class interface trait enum", Namespace: "namespace", Import: "use",
		Return: "return", Throw: "throw", New: "new", Jump: "break continue goto", Yield: "yield", Const: "const",
		Modifier: "private protected static final abstract readonly var global", Public: "public", Literal: "true false null",
		Operator: "instanceof clone and or xor", Throws: "extends implements", Word: "echo print include include_once require require_once exit die",
	},
	FailureCalls: []string{"catch", "otherwise", "fail"},
	LoopCalls:    []string{"each", "array_walk"},
}

// Ruby.
var Ruby = Spec{
	Name:         "ruby",
	Extensions:   []string{".rb", ".rake", ".ru", ".gemspec", ".jbuilder", ".rbw"},
	Filenames:    []string{"Rakefile", "Gemfile", "Capfile", "Guardfile", "Vagrantfile", "Podfile", "Fastfile", "Thorfile"},
	Interpreters: []string{"ruby", "jruby", "rake"},
	Features:     EndBlocks | NewlineEnds | CommandCalls | HereDocs | RubyWords | RegexLiterals | JoinedStrings | PercentOperator,
	LineComments: []string{"#"},
	BlockOpen:    "=begin", BlockClose: "\n=end",
	IdentBytes: "@$",
	Strings: []String{
		{Open: `"`, Close: `"`, Form: Lines | HashBrace},
		{Open: `'`, Close: `'`, Form: Lines},
		{Open: "`", Close: "`", Form: Lines | HashBrace},
	},
	Keywords: map[Role]string{
		If: "if unless", Else: "else", Elif: "elsif", For: "for", While: "while until", Do: "do", Switch: "case", Case: "when in", Try: "begin",
		Catch: "rescue", Finally: "ensure", Func: "def", Class: "class module", Return: "return", Throw: "raise", Jump: "break next redo retry",
		Yield: "yield", Literal: "true false nil", Self: "self super", Operator: "and or not defined?", Word: "then alias undef", End: "end",
	},
	LoopCalls: []string{"each", "each_with_index", "each_pair", "each_key", "each_value", "each_line", "each_slice", "times", "upto", "downto", "step", "loop", "each_entry", "find_each", "each_char", "each_index"},
}

// Rust.
var Rust = Spec{
	Name:         "rust",
	Extensions:   []string{".rs"},
	Features:     BraceBlocks | BareHeaders | KeywordFuncs | Blocks | NestedComments | Lifetimes | HashFences | Macros | ErrorText,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	Strings: []String{
		{Open: `"`, Close: `"`, Form: Lines},
		{Open: `'`, Close: `'`, Form: Char},
	},
	Prefixes: map[string]Form{"r": Raw, "b": 0, "br": Raw, "c": 0, "cr": Raw},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while loop", Switch: "match", Func: "fn", Class: "struct enum trait union impl", Namespace: "mod",
		Import: "use", Return: "return", Await: "await async", Var: "let", Const: "const static", Jump: "break continue",
		Modifier: "unsafe extern default dyn move ref mut", Public: "pub", Literal: "true false None", Self: "self Self super crate", Operator: "in as where", TypeDecl: "type",
	},
	FailureCalls: []string{"unwrap_or_else", "map_err", "or_else", "inspect_err"},
	LoopCalls:    []string{"for_each"},
}

// Swift.
var Swift = Spec{
	Name:         "swift",
	Extensions:   []string{".swift"},
	Interpreters: []string{"swift"},
	Features:     BraceBlocks | BareHeaders | NewlineEnds | TypeSuffix | KeywordFuncs | Blocks | NestedComments | Decorators | CaseScopes | HashFences | ErrorTruth | ErrorText,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	IdentBytes: "$",
	Strings: []String{
		{Open: `"""`, Close: `"""`, Form: Lines | BackParen},
		{Open: `"`, Close: `"`, Form: BackParen},
	},
	Keywords: map[Role]string{
		If: "if guard", Else: "else", For: "for", While: "while", Do: "repeat", Switch: "switch", Case: "case", Default: "default", Try: "do", Catch: "catch",
		Func: "func init deinit subscript", Class: "class struct enum protocol extension actor", Import: "import", Return: "return", Throw: "throw",
		Await: "await try", Var: "let var", Jump: "break continue fallthrough", Defer: "defer",
		Modifier: "private fileprivate internal static final override mutating nonmutating lazy weak unowned convenience required dynamic indirect isolated nonisolated",
		Public:   "public open", Literal: "true false nil", Self: "self super Self", Operator: "is as in where inout throws rethrows async",
	},
	FailureCalls: []string{"catch"},
	LoopCalls:    []string{"forEach"},
}

// Dart.
var Dart = Spec{
	Name:         "dart",
	Extensions:   []string{".dart"},
	Interpreters: []string{"dart"},
	Features:     BraceBlocks | TypedFuncs | CaseScopes | Decorators | Properties | JoinedStrings | Cascades | NestedComments,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	IdentBytes: "$",
	Strings: []String{
		{Open: `"""`, Close: `"""`, Form: Lines | DollarVar | DollarName},
		{Open: `'''`, Close: `'''`, Form: Lines | DollarVar | DollarName},
		{Open: `"`, Close: `"`, Form: DollarVar | DollarName},
		{Open: `'`, Close: `'`, Form: DollarVar | DollarName},
	},
	Prefixes: map[string]Form{"r": Raw},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "switch", Case: "case", Default: "default", Try: "try", Catch: "catch on", Finally: "finally",
		Class: "class enum mixin extension", Import: "import export part library", Return: "return", Throw: "throw rethrow", New: "new", Await: "await",
		Jump: "break continue", Modifier: "static final const late abstract external covariant required factory sync async var", Literal: "true false null", Self: "this super",
		Operator: "is as in", Throws: "extends implements with", Word: "void dynamic int double num bool", Assert: "assert", Yield: "yield",
	},
	FailureCalls: []string{"catchError", "onError"},
	LoopCalls:    []string{"forEach"},
	EventCalls:   []string{"listen"},
	FailureKeys:  []string{"onError"},
}

var cStrings = []String{
	{Open: `"`, Close: `"`},
	{Open: `'`, Close: `'`, Form: Char},
}

// C.
var C = Spec{
	Name:         "c",
	Extensions:   []string{".c"},
	Features:     BraceBlocks | TypedFuncs | Properties | CaseScopes | PreprocessorLine | Directives | JoinedStrings | ErrorText,
	LineComments: []string{"//"},
	BlockOpen:    "/*", BlockClose: "*/",
	Strings:  cStrings,
	Prefixes: map[string]Form{"L": 0, "u8": 0, "u": 0, "U": 0},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "switch", Case: "case", Default: "default", Class: "struct union enum",
		Return: "return", Jump: "break continue goto", Modifier: "static const volatile inline extern register restrict typedef auto",
		Word: "void char short int long float double signed unsigned bool", Literal: "true false NULL", Operator: "sizeof",
	},
}

// CPP is C++.
var CPP = Spec{
	Name:         "cpp",
	Extensions:   []string{".cpp", ".cc", ".cxx", ".c++", ".hpp", ".hh", ".hxx", ".h++", ".h", ".ipp", ".inl", ".tpp", ".ino"},
	Features:     C.Features | Streams | FencedRaw,
	LineComments: C.LineComments,
	BlockOpen:    "/*", BlockClose: "*/",
	Strings:  cStrings,
	Prefixes: map[string]Form{"L": 0, "u8": 0, "u": 0, "U": 0, "R": Raw, "LR": Raw, "u8R": Raw, "uR": Raw, "UR": Raw},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "switch", Case: "case", Default: "default", Try: "try", Catch: "catch",
		Class: "class struct union enum", Namespace: "namespace", Return: "return", Throw: "throw", New: "new", Jump: "break continue goto", Await: "co_await",
		Modifier: "static const volatile inline extern register typedef auto virtual explicit constexpr consteval constinit mutable friend override final private protected using template typename noexcept thread_local",
		Public:   "public", Word: "void char short int long float double signed unsigned bool wchar_t decltype", Literal: "true false nullptr NULL", Self: "this", Operator: "sizeof delete and or not",
	},
	FailureCalls: []string{"or_else"},
	LoopCalls:    []string{"for_each"},
}

// ObjectiveC is Objective-C and Objective-C++.
var ObjectiveC = Spec{
	Name:         "objective-c",
	Extensions:   []string{".m", ".mm"},
	Features:     (CPP.Features &^ ErrorText) | Selectors | ErrorTruth | ErrorText,
	LineComments: C.LineComments,
	BlockOpen:    "/*", BlockClose: "*/",
	Strings: append([]String{{Open: `@"`, Close: `"`}}, cStrings...),
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "switch", Case: "case", Default: "default", Try: "try", Catch: "catch", Finally: "finally",
		Class: "struct union enum", Return: "return", Jump: "break continue goto", Throw: "throw",
		Modifier: "static const volatile inline extern register typedef auto", Word: "void char short int long float double signed unsigned bool BOOL id instancetype",
		Literal: "true false NULL nil Nil YES NO", Self: "self super", Operator: "sizeof",
	},
}

// PowerShell.
var PowerShell = Spec{
	Name:         "powershell",
	Extensions:   []string{".ps1", ".psm1"},
	Interpreters: []string{"pwsh", "powershell"},
	Features:     BraceBlocks | NewlineEnds | CaseFold | DashWords | Commands | HereStrings | KeywordFuncs,
	LineComments: []string{"#"},
	BlockOpen:    "<#", BlockClose: "#>",
	IdentBytes: "$",
	Strings: []String{
		{Open: `"`, Close: `"`, Form: Lines | Doubled | Backtick | DollarName | DollarVar | DollarParen},
		{Open: `'`, Close: `'`, Form: Lines | Doubled | Raw},
		{Open: `@"`, Close: `"@`, Form: Lines},
		{Open: `@'`, Close: `'@`, Form: Lines},
	},
	Keywords: map[Role]string{
		If: "if", Else: "else", Elif: "elseif", For: "for foreach", While: "while until", Do: "do", Switch: "switch", Try: "try", Catch: "catch trap", Finally: "finally",
		Func: "function filter workflow", Class: "class enum", Import: "using", Return: "return", Throw: "throw", Jump: "break continue exit",
		Word: "param begin process end", Operator: "in",
	},
	LoopCalls: []string{"foreach-object", "foreach", "%"},
}

// Pascal is Object Pascal: Delphi and Free Pascal.
var Pascal = Spec{
	Name:         "pascal",
	Extensions:   []string{".pas", ".pp", ".dpr", ".lpr", ".dpk"},
	Features:     BeginEnd | CaseFold | ErrorText,
	LineComments: []string{"//"},
	BlockOpen:    "{", BlockClose: "}",
	MoreBlocks: [][2]string{{"(*", "*)"}},
	Strings: []String{
		{Open: `'`, Close: `'`, Form: Doubled | Raw},
	},
	Keywords: map[Role]string{
		If: "if", Else: "else", For: "for", While: "while", Do: "do", Switch: "case", Try: "try", Catch: "except", Finally: "finally", With: "with",
		Func: "procedure function constructor destructor operator", Class: "class record object", Namespace: "unit program library package", Import: "uses",
		Throw: "raise", Var: "var threadvar", Const: "const resourcestring", TypeDecl: "type", Word: "then of to downto until repeat on asm label property",
		Do2: "begin", End: "end", Operator: "and or not xor div mod shl shr in is as", Literal: "nil true false", Section: "interface implementation initialization finalization",
		Modifier: "forward external overload override virtual abstract dynamic reintroduce stdcall cdecl inline static strict private protected published", Public: "public", Self: "self inherited",
	},
}

// Shell is the Bourne shell and its kin.
var Shell = Spec{
	Name:         "shell",
	Extensions:   []string{".sh", ".bash", ".zsh", ".ksh", ".bats"},
	Interpreters: []string{"sh", "bash", "dash", "ksh", "zsh", "ash"},
	Features:     Commands | NewlineEnds | HereDocs | EndBlocks,
	LineComments: []string{"#"},
	IdentBytes:   "$",
	Strings: []String{
		{Open: `"`, Close: `"`, Form: Lines | DollarName | DollarVar | DollarParen},
		{Open: `'`, Close: `'`, Form: Lines | Raw},
		{Open: "`", Close: "`", Form: Lines},
	},
	Keywords: map[Role]string{
		If: "if", Elif: "elif", Else: "else", For: "for select", While: "while until", Switch: "case", Func: "function", Return: "return", Jump: "break continue exit", Do: "do", Word: "then in time",
		End: "fi done esac",
	},
}

// XML is for integration pipelines, in which a log step is an element.
var XML = Spec{
	Name:       "xml",
	Extensions: []string{".xml"},
	Features:   Elements,
	BlockOpen:  "<!--", BlockClose: "-->",
}
