-- Rules of the sound. One constant a line; the remark behind it says what it does.
turns_per_day = 24 -- one turn is one hour
calls_per_day = 3 -- distress calls on an ordinary day
storm_calls = 7 -- distress calls while it blows
fuel_reserve = 0.15 -- share of the tank that is never planned with
tow_penalty = 0.6 -- speed while towing, as a share
noise_limit = 70 -- from this noise on (dB) the crew tires twice as fast
stations_max = 12 -- cannot be raised: the ids that it counts have two digits
crew_rest = 9 -- hours of sleep before a role counts as rested
ice_from = 3 -- grade from which a vessel may enter pack ice
