-- What 1 ml of a tube weighs: mixtures are weighed, and tubes are sold by volume. NULL means "not known".

ALTER TABLE tube ADD COLUMN density_g_ml REAL CHECK (density_g_ml > 0);
