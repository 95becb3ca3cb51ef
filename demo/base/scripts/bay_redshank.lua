-- What is said when a boat comes into the bay.
function on_enter_redshank(boat, hour)
	if hour < 6 then
		say("log.bay_redshank.night")
	else
		say("log.bay_redshank.day")
	end
	if seen("lone_gull") then
		give(boat, "tide_clerk", 3)
	end
end
