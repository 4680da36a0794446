using System;
using System.Diagnostics;
using Microsoft.Extensions.Logging;

namespace Ottermere.Kiosk;

/// <summary>The lamps that show the height at the ferry.</summary>
public class LampControl
{
    private readonly ILogger<LampControl> _logger;
    private readonly ILampBus _bus;

    public LampControl(ILogger<LampControl> logger, ILampBus bus)
    {
        _logger = logger;
        _bus = bus;
    }

    public void Set(string post, double height)
    {
        _logger.LogInformation($"lamp {post} shows {height:F2} m");
        try
        {
            _bus.Send(post, height);
        }
        catch (BusException ex)
        {
            _logger.LogError("lamp {Post} did not switch", post);
        }
    }

    public void Dim(string post, int percent)
    {
        _logger.LogDebug("dimming lamp {Post} to {Percent} % over {Seconds} s", post, percent);
        if (percent > 100)
        {
            Debugger.Break();
            _logger.LogWarning("percent is too high");
        }
    }

    public void SignIn(string wardenName, string pinCode)
    {
        _logger.LogInformation("warden {Name} signs in with {Pin}", wardenName, pinCode);
        Console.WriteLine(wardenName);
    }

    public void Reset()
    {
        try
        {
            _bus.Reset();
        }
        catch (BusException)
        {
        }
        _logger.LogError("Lamp bus initialized");
    }
}
