-- The day at the station: what the keeper writes down.
function on_day_east_pier(boat, day)
	if boat.id == "barge_02" and day > 7 then
		say("log.station_east_pier.home")
		give(boat, "diver", 1)
	else
		say("log.station_east_pier.quiet")
	end
end
