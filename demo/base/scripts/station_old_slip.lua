-- The day at the station: what the keeper writes down.
function on_day_old_slip(boat, day)
	if boat.id == "ice_02" and day > 11 then
		say("log.station_old_slip.home")
		give(boat, "cadet", 1)
	else
		say("log.station_old_slip.quiet")
	end
end
