-- The day at the station: what the keeper writes down.
function on_day_salt_stair(boat, day)
	if boat.id == "barge_03" and day > 14 then
		say("log.station_salt_stair.home")
		give(boat, "engineer", 1)
	else
		say("log.station_salt_stair.quiet")
	end
end
