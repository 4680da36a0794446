# Prints, as JSON, the logging calls that Ruby's own parser finds.
#
# Usage: ruby_calls.rb, with names of files on the standard input; for each one line:
# {"file": …, "calls": [[line, column, method, function, in a loop, in a handler, shape], …]} or
# {"file": …, "error": …}. Receivers: logger, @logger, LOG, LOGGER and Rails.logger; bare puts, p and pp.
require "json"
require "ripper"

LEVELS = %w[trace debug info warn error fatal].freeze
PRINTS = %w[puts p pp].freeze
LOGGERS = %w[logger @logger LOG LOGGER].freeze

class Finder
  attr_reader :calls

  def initialize(tree)
    @calls = []
    @function = ""
    @loop = @fail = false
    @own = []
    defined(tree)
    visit(tree)
  end

  def defined(node)
    return unless node.is_a?(Array)

    @own << node[1][1] if node[0] == :def && node[1].is_a?(Array)
    node.each { |n| defined(n) }
  end

  def visit(node)
    return unless node.is_a?(Array)

    case node[0]
    when :def then scoped(node[1][1]) { visit(node[2]); visit(node[3]) }
    when :defs then scoped(node[3][1]) { visit(node[4]); visit(node[5]) }
    when :class, :module, :sclass then scoped("") { node.drop(1).each { |n| visit(n) } }
    when :while, :until
      visit(node[1])
      flagged(:@loop) { visit(node[2]) }
    when :while_mod, :until_mod
      visit(node[1])
      flagged(:@loop) { visit(node[2]) }
    when :for
      visit(node[2])
      flagged(:@loop) { visit(node[3]) }
    when :rescue
      visit(node[1])
      flagged(:@fail) { visit(node[3]) }
      visit(node[4])
    when :method_add_block then block(node)
    when :command, :command_call, :method_add_arg
      call(node, false)
      node.drop(1).each { |n| visit(n) }
    else
      node.each { |n| visit(n) }
    end
  end

  def scoped(name)
    saved = [@function, @loop, @fail]
    @function, @loop, @fail = name, false, false
    yield
    @function, @loop, @fail = saved
  end

  def flagged(flag)
    saved = instance_variable_get(flag)
    instance_variable_set(flag, true)
    yield
    instance_variable_set(flag, saved)
  end

  # A block: of a logging call it is the message, of each and its like a loop.
  def block(node)
    inner = node[1]
    name = method_name(inner)
    if name && receiver_name(inner) && LEVELS.include?(name)
      call(inner, true)
      visit(node[2])
      return
    end
    visit(inner)
    if name && loops?(name)
      flagged(:@loop) { visit(node[2]) }
    else
      visit(node[2])
    end
  end

  def loops?(name)
    LOOPS.include?(name)
  end

  def method_name(node)
    return nil unless node.is_a?(Array)

    case node[0]
    when :call, :command_call then node[3].is_a?(Array) ? node[3][1] : nil
    when :fcall, :command, :vcall then node[1][1]
    when :method_add_arg then method_name(node[1])
    end
  end

  def receiver_name(node)
    case node[0]
    when :method_add_arg then receiver_name(node[1])
    when :call, :command_call then plain(node[1])
    end
  end

  def plain(node)
    return nil unless node.is_a?(Array)

    case node[0]
    when :vcall, :var_ref then LOGGERS.include?(node[1][1]) ? node[1][1] : nil
    when :call
      rails = node[1].is_a?(Array) && node[1][0] == :var_ref && node[1][1][1] == "Rails"
      rails && node[3].is_a?(Array) && node[3][1] == "logger" ? "Rails.logger" : nil
    end
  end

  def first(node)
    return nil unless node.is_a?(Array)
    return node[2] if node[0].is_a?(Symbol) && node[0].to_s.start_with?("@") && node[2].is_a?(Array)

    node.each do |n|
      at = first(n)
      return at if at
    end
    nil
  end

  def call(node, with_block)
    name = method_name(node)
    return unless name

    args = arguments(node)
    if receiver_name(node)
      return unless LEVELS.include?(name) && (with_block || args)

      add(node, name, with_block && (args.nil? || args.empty?) ? "" : shape(args))
    elsif bare?(node) && PRINTS.include?(name) && !@own.include?(name)
      return if args.nil?

      add(node, name, "")
    end
  end

  def bare?(node)
    node[0] == :command || node[0] == :method_add_arg && node[1][0] == :fcall
  end

  # The arguments of a call, nil when it has none and no brackets.
  def arguments(node)
    list = case node[0]
           when :command then node[2]
           when :command_call then node[4]
           when :method_add_arg then node[2]
           end
    return nil if list.nil?

    list = list[1] if list[0] == :arg_paren
    return [] if list.nil?

    list[0] == :args_add_block ? list[1] : list
  end

  def text?(node)
    node.is_a?(Array) && (node[0] == :string_literal || node[0] == :string_concat || node[0] == :binary && (text?(node[1]) || text?(node[3])))
  end

  def shape(args)
    a = args[0]
    return "bare" if a.nil?
    return "" unless a.is_a?(Array) && a[0].is_a?(Symbol)

    case a[0]
    when :string_literal, :string_concat
      a.flatten.include?(:string_embexpr) || a.flatten.include?(:string_dvar) ? "interpolated" : "fixed"
    when :binary
      return "formatted" if a[2] == :% && text?(a[1])

      a[2] == :+ && text?(a) && a.flatten.any? { |n| %i[@ident @ivar @const string_embexpr].include?(n) } ? "concatenated" : ""
    else
      ""
    end
  end

  def add(node, name, text)
    line, column = first(node)
    @calls << [line, column + 1, name, @function, @loop, @fail, text]
  end
end

LOOPS = ARGV
$stdin.read.split("\n").each do |file|
  tree = Ripper.sexp(File.binread(file).force_encoding("UTF-8"))
  puts JSON.generate(tree ? { file: file, calls: Finder.new(tree).calls } : { file: file, error: "not read" })
rescue ArgumentError, SystemStackError, EncodingError, NoMethodError => e
  puts JSON.generate({ file: file, error: e.message })
end
