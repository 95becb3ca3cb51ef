-- The day at the station: what the keeper writes down.
function on_day_bell_yard(boat, day)
	if boat.id == "pilot_03" and day > 4 then
		say("log.station_bell_yard.home")
		give(boat, "lamplighter", 1)
	else
		say("log.station_bell_yard.quiet")
	end
end
