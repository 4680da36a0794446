unit Board;

interface

uses SysUtils, EventLog;

type
  TBoard = class
  private
    FLog: TEventLog;
    FStore: TStore;
  public
    procedure Show(const Note: string);
    function Unlock(const Name, Password: string): Boolean;
    procedure Clear;
    procedure Close;
  end;

implementation

procedure TBoard.Show(const Note: string);
begin
  FLog.Info('showing ' + Note);
  FLog.Info(Format('note has %d letters', [Length(Note)]));
  try
    FStore.Draw(Note);
  except
    on E: EStoreError do
      FLog.Info('note could not be drawn: %s', [E.Message]);
  end;
  WriteLn('shown ', Note);
end;

function TBoard.Unlock(const Name, Password: string): Boolean;
begin
  FLog.Debug('unlocking for %s with %s', [Name, Password]);
  Result := FStore.Knows(Name, Password);
  if not Result then
    FLog.Warning('failed');
end;

procedure TBoard.Clear;
begin
  try
    FStore.Clear;
  except
  end;
  FLog.Error('board is clear again');
end;

procedure TBoard.Close;
begin
  try
    FStore.Close;
  except
    on E: EStoreError do
      FLog.Error('store of the board was not closed');
  end;
  FLog.Info('closed %d notes in %d s', [FStore.Count]);
end;

end.
