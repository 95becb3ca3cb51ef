-- Where free play begins: the place, and how far the clock is put on (hours).
starts = {
	harbour = { x = 725, y = 162, clock = 0 },
	open_water = { x = 131, y = 120, clock = 6 },
	ice_edge = { x = 865, y = 157, clock = 9 },
	storm_night = { x = 28, y = 622, clock = 22 },
	first_light = { x = 342, y = 728, clock = 4 },
}
