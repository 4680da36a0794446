require "logger"

# Sells and checks passes for the ferry.
class TicketOffice
  LOG = Logger.new($stdout)

  def initialize(ledger, berth)
    @ledger = ledger
    @berth = berth
  end

  def sell(rider, days)
    LOG.info("selling " + days.to_s + " days to " + rider.name)
    pass = @ledger.issue(rider, days)
    puts "sold #{pass.number}"
    pass
  rescue LedgerError => e
    LOG.info("pass of #{rider.name} was not sold: #{e.message}")
    nil
  end

  def check(pass, password)
    LOG.debug("checking #{pass.number} with #{password}")
    return true if @ledger.valid?(pass, password)

    LOG.warn("failed")
    false
  end

  def board(riders)
    riders.each do |rider|
      begin
        @berth.let_in(rider)
      rescue GateError
      end
    end
    p riders
    LOG.error("all riders of the morning are on board")
  end

  def close
    binding.irb if ENV["CLOSING"]
    @ledger.close
  rescue LedgerError => e
    LOG.error("ledger of the ticket office was not closed")
  end
end
