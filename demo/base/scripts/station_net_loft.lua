-- The day at the station: what the keeper writes down.
function on_day_net_loft(boat, day)
	if boat.id == "launch_01" and day > 2 then
		say("log.station_net_loft.home")
		give(boat, "coxswain", 1)
	else
		say("log.station_net_loft.quiet")
	end
end
