require "logger"

# Works out when the ferry goes. The logging here is as it should be.
class Timetable
  def initialize(river, logger: Logger.new($stdout, progname: "timetable"))
    @river = river
    @logger = logger
  end

  def crossings(day)
    @logger.debug { "working out crossings of #{day}" }
    times = @river.slack_water(day)
    @logger.warn("no slack water on #{day}") if times.empty?
    times
  end

  def publish(day)
    @river.board.show(crossings(day))
    @logger.info("timetable is on the board")
  rescue IOError => e
    @logger.error("timetable was not published: #{e.full_message}")
    raise
  end
end
