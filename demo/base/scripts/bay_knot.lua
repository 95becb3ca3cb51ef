-- What is said when a boat comes into the bay.
function on_enter_knot(boat, hour)
	if hour < 6 then
		say("log.bay_knot.night")
	else
		say("log.bay_knot.day")
	end
	if seen("white_crane") then
		give(boat, "tide_clerk", 3)
	end
end
