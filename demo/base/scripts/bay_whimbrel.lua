-- What is said when a boat comes into the bay.
function on_enter_whimbrel(boat, hour)
	if hour < 6 then
		say("log.bay_whimbrel.night")
	else
		say("log.bay_whimbrel.day")
	end
	if seen("white_auk") then
		give(boat, "winchman", 2)
	end
end
