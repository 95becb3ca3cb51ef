-- The tide in metres, by the hour.
function tide(hour)
	return 1.6 * math.sin(hour / 12.4 * 6.283)
end

function on_hour(boat, hour)
	if tide(hour) < -1.2 then say("log.tide.low") end
	if tide(hour) > 1.2 then say("log.tide.high") end
end
