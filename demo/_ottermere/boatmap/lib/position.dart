import 'package:logging/logging.dart';

/// Follows one boat. The logging here is as it should be.
class Position {
  Position(this._boat, this._beacon);

  static final _log = Logger('boatmap.position');
  final Boat _boat;
  final Beacon _beacon;

  Future<Place?> read() async {
    _log.fine('reading the beacon of ${_boat.id}');
    try {
      final place = await _beacon.read();
      if (place.age.inMinutes > 10) {
        _log.warning('place of ${_boat.id} is ${place.age.inMinutes} minutes old');
      }
      return place;
    } on BeaconException catch (e, st) {
      _log.severe('beacon of ${_boat.id} gave no place', e, st);
      return null;
    }
  }
}
