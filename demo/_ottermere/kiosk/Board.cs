using Microsoft.Extensions.Logging;

namespace Ottermere.Kiosk;

/// <summary>The board at the ferry. The logging here is as it should be.</summary>
public sealed class Board
{
    private readonly ILogger<Board> _logger;
    private readonly IPanel _panel;

    public Board(ILogger<Board> logger, IPanel panel)
    {
        _logger = logger;
        _panel = panel;
    }

    public void Show(string text, int seconds)
    {
        using (_logger.BeginScope("panel {Panel}", _panel.Name))
        {
            _logger.LogDebug("showing {Length} characters for {Seconds} s", text.Length, seconds);
            try
            {
                _panel.Write(text, seconds);
            }
            catch (PanelException ex)
            {
                _logger.LogError(ex, "panel {Panel} did not take the text", _panel.Name);
            }
        }
    }

    public bool TryClear()
    {
        try
        {
            _panel.Clear();
            return true;
        }
        catch (PanelException)
        {
            return false;
        }
    }
}
