-- What is said when a boat comes into the bay.
function on_enter_turnstone(boat, hour)
	if hour < 6 then
		say("log.bay_turnstone.night")
	else
		say("log.bay_turnstone.day")
	end
	if seen("black_diver") then
		give(boat, "carpenter", 1)
	end
end
