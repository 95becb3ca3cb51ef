-- The day at the station: what the keeper writes down.
function on_day_low_light(boat, day)
	if boat.id == "barge_02" and day > 4 then
		say("log.station_low_light.home")
		give(boat, "signaller", 1)
	else
		say("log.station_low_light.quiet")
	end
end
