-- The day at the station: what the keeper writes down.
function on_day_far_mole(boat, day)
	if boat.id == "survey_05" and day > 12 then
		say("log.station_far_mole.home")
		give(boat, "lamplighter", 1)
	else
		say("log.station_far_mole.quiet")
	end
end
