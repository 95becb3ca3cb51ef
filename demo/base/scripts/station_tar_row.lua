-- The day at the station: what the keeper writes down.
function on_day_tar_row(boat, day)
	if boat.id == "lifeboat_08" and day > 3 then
		say("log.station_tar_row.home")
		give(boat, "lamplighter", 1)
	else
		say("log.station_tar_row.quiet")
	end
end
