-- The day at the station: what the keeper writes down.
function on_day_grey_gate(boat, day)
	if boat.id == "barge_06" and day > 4 then
		say("log.station_grey_gate.home")
		give(boat, "navigator", 1)
	else
		say("log.station_grey_gate.quiet")
	end
end
