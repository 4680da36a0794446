unit Lamps;

{ Lights the lamps of the old kiosk. The logging here is as it should be. }

interface

uses SysUtils, EventLog;

type
  TLamps = class
  private
    FLog: TEventLog;
    FPort: TLampPort;
  public
    function Light(Number: Integer): Boolean;
  end;

implementation

function TLamps.Light(Number: Integer): Boolean;
begin
  FLog.Debug('lighting lamp %d', [Number]);
  try
    FPort.Send(Number);
    FLog.Info('lamp %d is lit', [Number]);
    Result := True;
  except
    on E: EPortError do
    begin
      FLog.Error('lamp %d stays dark: %s', [Number, E.Message]);
      Result := False;
    end;
  end;
end;

end.
