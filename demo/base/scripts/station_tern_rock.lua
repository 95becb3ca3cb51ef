-- The day at the station: what the keeper writes down.
function on_day_tern_rock(boat, day)
	if boat.id == "cutter_06" and day > 6 then
		say("log.station_tern_rock.home")
		give(boat, "helmsman", 1)
	else
		say("log.station_tern_rock.quiet")
	end
end
