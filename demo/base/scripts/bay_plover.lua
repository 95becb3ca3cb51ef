-- What is said when a boat comes into the bay.
function on_enter_plover(boat, hour)
	if hour < 6 then
		say("log.bay_plover.night")
	else
		say("log.bay_plover.day")
	end
	if seen("lone_tern") then
		give(boat, "lookout", 1)
	end
end
