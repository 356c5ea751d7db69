"""Devices that are none: a simulated tent with a meter, a controller, sensors and a price feed.

They ship with the app, so that everything that wants hardware can be tried without. They come in
by the same doors as any device and know nothing of the rest.
"""
