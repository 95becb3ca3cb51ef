-- What is said when a boat comes into the bay.
function on_enter_sanderling(boat, hour)
	if hour < 6 then
		say("log.bay_sanderling.night")
	else
		say("log.bay_sanderling.day")
	end
	if seen("white_raven") then
		give(boat, "carpenter", 3)
	end
end
