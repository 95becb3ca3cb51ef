-- The day at the station: what the keeper writes down.
function on_day_last_quay(boat, day)
	if boat.id == "barge_04" and day > 16 then
		say("log.station_last_quay.home")
		give(boat, "stoker", 1)
	else
		say("log.station_last_quay.quiet")
	end
end
