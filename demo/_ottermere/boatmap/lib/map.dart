import 'dart:developer';

import 'package:logging/logging.dart';

/// The map of boats on the lake.
class BoatMap {
  BoatMap(this._store, this._accessToken);

  final _log = Logger('boatmap.map');
  final BoatStore _store;
  final String _accessToken;
  final List<Boat> _boats = [];

  Future<void> load(String harbour) async {
    _log.info('loading boats of ' + harbour);
    _log.fine('access token is $_accessToken');
    try {
      _boats.addAll(await _store.boats(harbour));
    } on StoreException catch (e) {
      _log.info('boats of $harbour failed to load', e);
    }
    print('boats: ${_boats.length}');
  }

  void drop(Boat boat) {
    try {
      _store.drop(boat);
    } on StoreException catch (e) {
    }
    debugPrint('dropped ${boat.id}');
  }

  Future<bool> rename(Boat boat, String name) async {
    try {
      await _store.rename(boat, name);
      return true;
    } on StoreException catch (e) {
      _log.severe('boat ${boat.id} was not renamed');
      return false;
    }
  }

  void tidy() {
    _log.warning('error');
    _log.severe('map is tidy again');
    debugger();
  }
}
