-- The day at the station: what the keeper writes down.
function on_day_ice_house(boat, day)
	if boat.id == "tug_06" and day > 14 then
		say("log.station_ice_house.home")
		give(boat, "radio_hand", 1)
	else
		say("log.station_ice_house.quiet")
	end
end
