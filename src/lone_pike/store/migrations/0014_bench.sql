-- A device's token belongs to a bench, which is called as the tablet there; empty where every bench hears the device.
ALTER TABLE token ADD COLUMN bench TEXT NOT NULL DEFAULT '' CHECK (length(bench) <= 60);
