/** Written by tools/generated.py from the core. */
import type { Tables } from "./tables";

export const tables: Tables = {
 "kinds": {
  "temperature": {
   "si": "degC",
   "us": "degF",
   "units": {
    "degC": {
     "key": "degC",
     "label": "°C",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 1
    },
    "degF": {
     "key": "degF",
     "label": "°F",
     "factor": 0.5555555555555556,
     "offset": -17.77777777777778,
     "decimals": 1
    }
   }
  },
  "temperature_difference": {
   "si": "K",
   "us": "degF_diff",
   "units": {
    "K": {
     "key": "K",
     "label": "K",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 1
    },
    "degF_diff": {
     "key": "degF_diff",
     "label": "°F",
     "factor": 0.5555555555555556,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "relative_humidity": {
   "si": "percent",
   "us": "percent",
   "units": {
    "percent": {
     "key": "percent",
     "label": "%",
     "factor": 0.01,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "share": {
   "si": "percent",
   "us": "percent",
   "units": {
    "percent": {
     "key": "percent",
     "label": "%",
     "factor": 0.01,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "ratio": {
   "si": "1",
   "us": "1",
   "units": {
    "1": {
     "key": "1",
     "label": "",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 3
    }
   }
  },
  "as_given": {
   "si": "given",
   "us": "given",
   "units": {
    "given": {
     "key": "given",
     "label": "",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 3
    }
   }
  },
  "humidity_ratio": {
   "si": "g/kg",
   "us": "gr/lb",
   "units": {
    "g/kg": {
     "key": "g/kg",
     "label": "g/kg",
     "factor": 0.001,
     "offset": 0.0,
     "decimals": 2
    },
    "gr/lb": {
     "key": "gr/lb",
     "label": "gr/lb",
     "factor": 0.00014285714285714287,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "enthalpy": {
   "si": "kJ/kg",
   "us": "Btu/lb",
   "units": {
    "kJ/kg": {
     "key": "kJ/kg",
     "label": "kJ/kg",
     "factor": 1000.0,
     "offset": 0.0,
     "decimals": 2
    },
    "Btu/lb": {
     "key": "Btu/lb",
     "label": "Btu/lb",
     "factor": 2326.0,
     "offset": -17863.68,
     "decimals": 2
    }
   }
  },
  "enthalpy_difference": {
   "si": "kJ/kg",
   "us": "Btu/lb",
   "units": {
    "kJ/kg": {
     "key": "kJ/kg",
     "label": "kJ/kg",
     "factor": 1000.0,
     "offset": 0.0,
     "decimals": 2
    },
    "Btu/lb": {
     "key": "Btu/lb",
     "label": "Btu/lb",
     "factor": 2326.0,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "specific_volume": {
   "si": "m3/kg",
   "us": "ft3/lb",
   "units": {
    "m3/kg": {
     "key": "m3/kg",
     "label": "m³/kg",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 4
    },
    "ft3/lb": {
     "key": "ft3/lb",
     "label": "ft³/lb",
     "factor": 0.062427960576144616,
     "offset": 0.0,
     "decimals": 3
    }
   }
  },
  "density": {
   "si": "kg/m3",
   "us": "lb/ft3",
   "units": {
    "kg/m3": {
     "key": "kg/m3",
     "label": "kg/m³",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 4
    },
    "lb/ft3": {
     "key": "lb/ft3",
     "label": "lb/ft³",
     "factor": 16.018463373960138,
     "offset": 0.0,
     "decimals": 5
    }
   }
  },
  "airflow": {
   "si": "L/s",
   "us": "cfm",
   "units": {
    "L/s": {
     "key": "L/s",
     "label": "L/s",
     "factor": 0.001,
     "offset": 0.0,
     "decimals": 0
    },
    "cfm": {
     "key": "cfm",
     "label": "cfm",
     "factor": 0.0004719474432000001,
     "offset": 0.0,
     "decimals": 0
    },
    "m3/s": {
     "key": "m3/s",
     "label": "m³/s",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 3
    },
    "m3/h": {
     "key": "m3/h",
     "label": "m³/h",
     "factor": 0.0002777777777777778,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "mass_flow": {
   "si": "kg/s",
   "us": "lb/min",
   "units": {
    "kg/s": {
     "key": "kg/s",
     "label": "kg/s",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 4
    },
    "lb/min": {
     "key": "lb/min",
     "label": "lb/min",
     "factor": 0.007559872833333333,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "water_rate": {
   "si": "kg/h",
   "us": "lb/h",
   "units": {
    "kg/h": {
     "key": "kg/h",
     "label": "kg/h",
     "factor": 0.0002777777777777778,
     "offset": 0.0,
     "decimals": 2
    },
    "lb/h": {
     "key": "lb/h",
     "label": "lb/h",
     "factor": 0.00012599788055555556,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "volume": {
   "si": "m3",
   "us": "ft3",
   "units": {
    "m3": {
     "key": "m3",
     "label": "m³",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 0
    },
    "ft3": {
     "key": "ft3",
     "label": "cu ft",
     "factor": 0.028316846592000004,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "water_mass": {
   "si": "kg",
   "us": "lb",
   "units": {
    "kg": {
     "key": "kg",
     "label": "kg",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 2
    },
    "lb": {
     "key": "lb",
     "label": "lb",
     "factor": 0.45359237,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "water_per_day": {
   "si": "L/day",
   "us": "gal/day",
   "units": {
    "L/day": {
     "key": "L/day",
     "label": "L/day",
     "factor": 1.1574074074074073e-05,
     "offset": 0.0,
     "decimals": 0
    },
    "gal/day": {
     "key": "gal/day",
     "label": "gal/day",
     "factor": 4.3812636388888886e-05,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "power": {
   "si": "kW",
   "us": "Btu/h",
   "units": {
    "kW": {
     "key": "kW",
     "label": "kW",
     "factor": 1000.0,
     "offset": 0.0,
     "decimals": 2
    },
    "Btu/h": {
     "key": "Btu/h",
     "label": "Btu/h",
     "factor": 0.2930710701722222,
     "offset": 0.0,
     "decimals": 0
    },
    "ton": {
     "key": "ton",
     "label": "ton",
     "factor": 3516.8528420666667,
     "offset": 0.0,
     "decimals": 2
    },
    "W": {
     "key": "W",
     "label": "W",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "tonnage": {
   "si": "kW",
   "us": "ton",
   "units": {
    "kW": {
     "key": "kW",
     "label": "kW",
     "factor": 1000.0,
     "offset": 0.0,
     "decimals": 2
    },
    "ton": {
     "key": "ton",
     "label": "ton",
     "factor": 3516.8528420666667,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "electric_power": {
   "si": "W",
   "us": "W",
   "units": {
    "W": {
     "key": "W",
     "label": "W",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 0
    },
    "kW": {
     "key": "kW",
     "label": "kW",
     "factor": 1000.0,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "pressure": {
   "si": "Pa",
   "us": "inwc",
   "units": {
    "Pa": {
     "key": "Pa",
     "label": "Pa",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 0
    },
    "inwc": {
     "key": "inwc",
     "label": "in. w.c.",
     "factor": 249.08891,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "refrigerant_pressure": {
   "si": "kPa",
   "us": "psi",
   "units": {
    "kPa": {
     "key": "kPa",
     "label": "kPa",
     "factor": 1000.0,
     "offset": 0.0,
     "decimals": 0
    },
    "psi": {
     "key": "psi",
     "label": "psi",
     "factor": 6894.757293168,
     "offset": 0.0,
     "decimals": 1
    },
    "bar": {
     "key": "bar",
     "label": "bar",
     "factor": 100000.0,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "heat_per_kelvin": {
   "si": "W/K",
   "us": "Btu/h/degF",
   "units": {
    "W/K": {
     "key": "W/K",
     "label": "W/K",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 1
    },
    "Btu/h/degF": {
     "key": "Btu/h/degF",
     "label": "Btu/h°F",
     "factor": 0.52752792631,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "thermal_resistance": {
   "si": "m2K/W",
   "us": "R",
   "units": {
    "m2K/W": {
     "key": "m2K/W",
     "label": "m²K/W",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 2
    },
    "R": {
     "key": "R",
     "label": "R",
     "factor": 0.17611018368230583,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "barometric_pressure": {
   "si": "kPa",
   "us": "inHg",
   "units": {
    "kPa": {
     "key": "kPa",
     "label": "kPa",
     "factor": 1000.0,
     "offset": 0.0,
     "decimals": 2
    },
    "inHg": {
     "key": "inHg",
     "label": "inHg",
     "factor": 3386.389,
     "offset": 0.0,
     "decimals": 2
    },
    "hPa": {
     "key": "hPa",
     "label": "hPa",
     "factor": 100.0,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "length": {
   "si": "m",
   "us": "ft",
   "units": {
    "m": {
     "key": "m",
     "label": "m",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 0
    },
    "ft": {
     "key": "ft",
     "label": "ft",
     "factor": 0.3048,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "diameter": {
   "si": "mm",
   "us": "in",
   "units": {
    "mm": {
     "key": "mm",
     "label": "mm",
     "factor": 0.001,
     "offset": 0.0,
     "decimals": 0
    },
    "in": {
     "key": "in",
     "label": "in",
     "factor": 0.0254,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "depth": {
   "si": "mm",
   "us": "in",
   "units": {
    "mm": {
     "key": "mm",
     "label": "mm",
     "factor": 0.001,
     "offset": 0.0,
     "decimals": 0
    },
    "in": {
     "key": "in",
     "label": "in",
     "factor": 0.0254,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "velocity": {
   "si": "m/s",
   "us": "fpm",
   "units": {
    "m/s": {
     "key": "m/s",
     "label": "m/s",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 2
    },
    "fpm": {
     "key": "fpm",
     "label": "fpm",
     "factor": 0.00508,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "door": {
   "si": "m",
   "us": "ft",
   "units": {
    "m": {
     "key": "m",
     "label": "m",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 2
    },
    "ft": {
     "key": "ft",
     "label": "ft",
     "factor": 0.3048,
     "offset": 0.0,
     "decimals": 2
    }
   }
  },
  "force": {
   "si": "N",
   "us": "lbf",
   "units": {
    "N": {
     "key": "N",
     "label": "N",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 1
    },
    "lbf": {
     "key": "lbf",
     "label": "lbf",
     "factor": 4.4482216152605,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "resistance": {
   "si": "ohm",
   "us": "ohm",
   "units": {
    "ohm": {
     "key": "ohm",
     "label": "Ω",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "voltage": {
   "si": "V",
   "us": "V",
   "units": {
    "V": {
     "key": "V",
     "label": "V",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "apparent_power": {
   "si": "VA",
   "us": "VA",
   "units": {
    "VA": {
     "key": "VA",
     "label": "VA",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "current": {
   "si": "A",
   "us": "A",
   "units": {
    "A": {
     "key": "A",
     "label": "A",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "area": {
   "si": "m2",
   "us": "ft2",
   "units": {
    "m2": {
     "key": "m2",
     "label": "m²",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 1
    },
    "ft2": {
     "key": "ft2",
     "label": "sq ft",
     "factor": 0.09290304,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "duct_area": {
   "si": "m2",
   "us": "ft2",
   "units": {
    "m2": {
     "key": "m2",
     "label": "m²",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 4
    },
    "ft2": {
     "key": "ft2",
     "label": "sq ft",
     "factor": 0.09290304,
     "offset": 0.0,
     "decimals": 3
    }
   }
  },
  "opening": {
   "si": "cm2",
   "us": "in2",
   "units": {
    "cm2": {
     "key": "cm2",
     "label": "cm²",
     "factor": 0.0001,
     "offset": 0.0,
     "decimals": 0
    },
    "in2": {
     "key": "in2",
     "label": "sq in",
     "factor": 0.00064516,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "leakage_rate": {
   "si": "L/s/100m2",
   "us": "cfm/100ft2",
   "units": {
    "L/s/100m2": {
     "key": "L/s/100m2",
     "label": "L/s per 100 m²",
     "factor": 1e-05,
     "offset": 0.0,
     "decimals": 1
    },
    "cfm/100ft2": {
     "key": "cfm/100ft2",
     "label": "cfm per 100 sq ft",
     "factor": 5.080000000000001e-05,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "duration": {
   "si": "min",
   "us": "min",
   "units": {
    "min": {
     "key": "min",
     "label": "min",
     "factor": 60.0,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "hours": {
   "si": "h",
   "us": "h",
   "units": {
    "h": {
     "key": "h",
     "label": "h",
     "factor": 3600.0,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "energy": {
   "si": "kWh",
   "us": "kWh",
   "units": {
    "kWh": {
     "key": "kWh",
     "label": "kWh",
     "factor": 3600000.0,
     "offset": 0.0,
     "decimals": 1
    }
   }
  },
  "heat_capacity": {
   "si": "kJ/K",
   "us": "Btu/degF",
   "units": {
    "kJ/K": {
     "key": "kJ/K",
     "label": "kJ/K",
     "factor": 1000.0,
     "offset": 0.0,
     "decimals": 0
    },
    "Btu/degF": {
     "key": "Btu/degF",
     "label": "Btu/°F",
     "factor": 1899.100534716,
     "offset": 0.0,
     "decimals": 0
    }
   }
  },
  "seconds": {
   "si": "s",
   "us": "s",
   "units": {
    "s": {
     "key": "s",
     "label": "s",
     "factor": 1.0,
     "offset": 0.0,
     "decimals": 0
    }
   }
  }
 },
 "readable": {
  "dry_bulb": {
   "key": "dry_bulb",
   "name": "Dry bulb",
   "kind": "temperature",
   "possible": [
    -60.0,
    90.0
   ],
   "usual": [
    -30.0,
    60.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Dry bulb"
  },
  "relative_humidity": {
   "key": "relative_humidity",
   "name": "Relative humidity",
   "kind": "relative_humidity",
   "possible": [
    0.0,
    1.0
   ],
   "usual": [
    0.05,
    0.99
   ],
   "humidity": true,
   "not_above": "",
   "on_a_key": "RH"
  },
  "wet_bulb": {
   "key": "wet_bulb",
   "name": "Wet bulb",
   "kind": "temperature",
   "possible": [
    -60.0,
    60.0
   ],
   "usual": [
    -30.0,
    32.0
   ],
   "humidity": true,
   "not_above": "dry_bulb",
   "on_a_key": "Wet bulb"
  },
  "dew_point": {
   "key": "dew_point",
   "name": "Dew point",
   "kind": "temperature",
   "possible": [
    -80.0,
    60.0
   ],
   "usual": [
    -40.0,
    29.0
   ],
   "humidity": true,
   "not_above": "dry_bulb",
   "on_a_key": "Dew point"
  },
  "airflow": {
   "key": "airflow",
   "name": "Airflow",
   "kind": "airflow",
   "possible": [
    0.0004719474432000001,
    60.0
   ],
   "usual": [
    0.0037755795456000008,
    15.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Airflow"
  },
  "velocity": {
   "key": "velocity",
   "name": "Velocity",
   "kind": "velocity",
   "possible": [
    -30.0,
    40.0
   ],
   "usual": [
    0.3,
    20.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Velocity"
  },
  "static_pressure": {
   "key": "static_pressure",
   "name": "Static pressure",
   "kind": "pressure",
   "possible": [
    -2500.0,
    2500.0
   ],
   "usual": [
    -1000.0,
    1000.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Static"
  },
  "pipe_temperature": {
   "key": "pipe_temperature",
   "name": "Pipe temperature",
   "kind": "temperature",
   "possible": [
    -60.0,
    120.0
   ],
   "usual": [
    -20.0,
    90.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Pipe"
  },
  "electric_power": {
   "key": "electric_power",
   "name": "Electric power",
   "kind": "electric_power",
   "possible": [
    0.0,
    500000.0
   ],
   "usual": [
    20.0,
    60000.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Power"
  },
  "gauge_pressure": {
   "key": "gauge_pressure",
   "name": "Gauge pressure",
   "kind": "refrigerant_pressure",
   "possible": [
    -100000.0,
    5000000.0
   ],
   "usual": [
    50000.0,
    4200000.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Gauge"
  },
  "air_pressure": {
   "key": "air_pressure",
   "name": "Air pressure",
   "kind": "barometric_pressure",
   "possible": [
    50000.0,
    110000.0
   ],
   "usual": [
    65000.0,
    106000.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Air pressure"
  },
  "voltage": {
   "key": "voltage",
   "name": "Voltage",
   "kind": "voltage",
   "possible": [
    0.0,
    700.0
   ],
   "usual": [
    20.0,
    500.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Volts"
  },
  "current": {
   "key": "current",
   "name": "Current",
   "kind": "current",
   "possible": [
    0.0,
    1000.0
   ],
   "usual": [
    0.1,
    200.0
   ],
   "humidity": false,
   "not_above": "",
   "on_a_key": "Amps"
  }
 },
 "humidity_choices": [
  "relative_humidity",
  "wet_bulb",
  "dew_point"
 ],
 "usual_dry_bulb": {
  "return": [
   12.0,
   36.0
  ],
  "mixed": [
   2.0,
   42.0
  ],
  "supply": [
   3.0,
   65.0
  ],
  "outdoor": [
   -35.0,
   48.0
  ],
  "extract": [
   12.0,
   36.0
  ],
  "exhaust": [
   -20.0,
   40.0
  ],
  "return_grille": [
   12.0,
   36.0
  ],
  "after_coil": [
   0.0,
   65.0
  ],
  "condenser_in": [
   -35.0,
   48.0
  ],
  "condenser_out": [
   -30.0,
   70.0
  ]
 },
 "temporary_kinds": {
  "override": "Override",
  "jumper": "Jumper",
  "wire": "Wire pulled",
  "sensor": "Sensor unplugged",
  "damper": "Damper blocked",
  "test_hole": "Test hole open",
  "filter": "Filter out",
  "other": "Other"
 },
 "items": {
  "filter_arrow": {
   "agrees": "The arrow agrees",
   "against": "It points the other way",
   "no_filter": "No filter, or no arrow"
  },
  "fan_tap": {},
  "stage": {
   "full": "Its full stage",
   "first": "Lower, or slowed down",
   "one": "It has only one"
  },
  "auxiliary": {
   "off": "The compressor alone",
   "on": "The electric heater too",
   "alone": "The electric heater alone"
  }
 },
 "parts": {
  "measuring": "Measuring",
  "cooling": "Cooling",
  "refrigerant": "Refrigerant",
  "heating": "Heating",
  "statics": "Pressures",
  "airflow": "Airflow",
  "ducts": "Ducts",
  "zoning": "Zones",
  "economizer": "Economizer",
  "leakage": "Return leak",
  "mixing": "Outdoor air",
  "moisture": "Moisture",
  "ventilation": "Ventilation",
  "night": "Night cooling"
 },
 "match_s": 120.0,
 "most_points": 60,
 "steady_window_s": 180.0,
 "duct_m": [
  0.05,
  6.0
 ],
 "economizer": {
  "points": {
   "outdoor_temperature": {
    "name": "Outdoor sensor",
    "kind": "temperature",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "outdoor_humidity": {
    "name": "Outdoor humidity",
    "kind": "relative_humidity",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "return_temperature": {
    "name": "Return sensor",
    "kind": "temperature",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "return_humidity": {
    "name": "Return humidity",
    "kind": "relative_humidity",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "mixed_temperature": {
    "name": "Mixed-air sensor",
    "kind": "temperature",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "supply_temperature": {
    "name": "Supply sensor",
    "kind": "temperature",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "after_coil_temperature": {
    "name": "Sensor after the coil",
    "kind": "temperature",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "room_temperature": {
    "name": "Room sensor",
    "kind": "temperature",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "building_pressure": {
    "name": "Building pressure",
    "kind": "pressure",
    "shown_as": "",
    "by_eye": true,
    "on_off": false
   },
   "cooling_setpoint": {
    "name": "Cooling setpoint",
    "kind": "temperature",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "heating_setpoint": {
    "name": "Heating setpoint",
    "kind": "temperature",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "humidity_setpoint": {
    "name": "Humidity setpoint",
    "kind": "relative_humidity",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "occupied": {
    "name": "Schedule: occupied",
    "kind": "share",
    "shown_as": "yes",
    "by_eye": false,
    "on_off": false
   },
   "damper_command": {
    "name": "Damper command",
    "kind": "share",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "damper_position": {
    "name": "Outdoor damper",
    "kind": "share",
    "shown_as": "",
    "by_eye": true,
    "on_off": false
   },
   "compressor": {
    "name": "Compressor",
    "kind": "share",
    "shown_as": "",
    "by_eye": true,
    "on_off": true
   },
   "heating": {
    "name": "Heating",
    "kind": "share",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "reheat": {
    "name": "Reheat",
    "kind": "share",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "return_bypass": {
    "name": "Return bypass",
    "kind": "share",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "fan": {
    "name": "Fan",
    "kind": "share",
    "shown_as": "",
    "by_eye": true,
    "on_off": true
   },
   "relief": {
    "name": "Relief",
    "kind": "share",
    "shown_as": "",
    "by_eye": true,
    "on_off": false
   },
   "mode": {
    "name": "Mode",
    "kind": "text",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "alarm": {
    "name": "Alarm",
    "kind": "text",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "outdoor_share": {
    "name": "Outdoor-air share by temperature",
    "kind": "share",
    "shown_as": "",
    "by_eye": true,
    "on_off": false
   },
   "alarming": {
    "name": "Alarm shown",
    "kind": "share",
    "shown_as": "yes",
    "by_eye": true,
    "on_off": true
   },
   "overrides": {
    "name": "Overrides left",
    "kind": "ratio",
    "shown_as": "count",
    "by_eye": false,
    "on_off": false
   },
   "damper_change": {
    "name": "Damper command moved by",
    "kind": "share",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "supply_rise": {
    "name": "Supply above mixed air",
    "kind": "temperature_difference",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   },
   "mode_as_found": {
    "name": "Runs by itself as it was found",
    "kind": "share",
    "shown_as": "yes",
    "by_eye": true,
    "on_off": true
   },
   "mode_free": {
    "name": "Cooling with outdoor air",
    "kind": "share",
    "shown_as": "",
    "by_eye": false,
    "on_off": false
   }
  },
  "modes": {
   "heating": "Heating",
   "minimum": "Minimum air",
   "free": "Outdoor air cools",
   "free_and_compressor": "Outdoor air and compressor",
   "compressor": "Compressor"
  },
  "heating_below_c": 8.0,
  "cooling_from_c": 10.0,
  "loops": [
   {
    "key": "supply_loop",
    "name": "Supply temperature loop",
    "setpoint": "supply_setpoint_c"
   },
   {
    "key": "low_limit",
    "name": "Mixed-air low limit",
    "setpoint": "mixed_low_limit_c"
   },
   {
    "key": "freeze",
    "name": "Freeze protection",
    "setpoint": "freeze_c"
   },
   {
    "key": "changeover",
    "name": "Changeover",
    "setpoint": "high_limit_c"
   }
  ],
  "places": {
   "outdoor": "outdoor air",
   "return": "return air",
   "mixed": "mixed air",
   "supply": "supply air"
  },
  "relief_ways": {
   "barometric": {
    "name": "Barometric damper",
    "when": {
     "text": "Short return, small building. Set by its counterweight to open below the building's limit, commonly at {low} to {high}.",
     "numbers": {
      "low": {
       "value": 10.0,
       "kind": "pressure"
      },
      "high": {
       "value": 15.0,
       "kind": "pressure"
      }
     }
    }
   },
   "relief_fan": {
    "name": "Relief fan",
    "when": {
     "text": "Building pressure rises though the damper is open, or wind holds it shut. Staged or variable, by building pressure.",
     "numbers": {}
    }
   },
   "return_fan": {
    "name": "Return fan",
    "when": {
     "text": "Long ducted returns: the supply fan alone can't pull the air back and push it out.",
     "numbers": {}
    }
   }
  },
  "hard_to_open_n": 67.0,
  "curves": {
   "10k type II": "10 kΩ type II",
   "10k type III": "10 kΩ type III",
   "1k platinum": "1 kΩ platinum"
  },
  "entries": [
   "plan_setting",
   "outdoor_need",
   "damper_read",
   "test_seen",
   "point_list",
   "point_read",
   "configuration",
   "alarm",
   "alarm_check",
   "alarm_closed"
  ]
 },
 "ducts": {
  "fittings": [
   {
    "key": "bend_90",
    "name": "Bend 90°, smooth",
    "shape": "bend",
    "loss": 0.15
   },
   {
    "key": "bend_90_pieces",
    "name": "Bend 90°, three pieces",
    "shape": "bend",
    "loss": 0.34
   },
   {
    "key": "bend_90_mitred",
    "name": "Bend 90°, mitred",
    "shape": "bend",
    "loss": 1.2
   },
   {
    "key": "bend_90_vanes",
    "name": "Bend 90°, with vanes",
    "shape": "bend",
    "loss": 0.2
   },
   {
    "key": "bend_45",
    "name": "Bend 45°, smooth",
    "shape": "bend",
    "loss": 0.09
   },
   {
    "key": "bend_45_pieces",
    "name": "Bend 45°, pieces",
    "shape": "bend",
    "loss": 0.204
   },
   {
    "key": "plenum_entry",
    "name": "Out of the plenum, sharp",
    "shape": "entry",
    "loss": 0.5
   },
   {
    "key": "bell_mouth",
    "name": "Out of the plenum, bell mouth",
    "shape": "entry",
    "loss": 0.1
   },
   {
    "key": "takeoff_straight",
    "name": "Take-off, straight",
    "shape": "takeoff",
    "loss": 1.2
   },
   {
    "key": "takeoff_shoe",
    "name": "Take-off, shoe or 45°",
    "shape": "takeoff",
    "loss": 0.6
   },
   {
    "key": "takeoff_conical",
    "name": "Take-off, conical",
    "shape": "takeoff",
    "loss": 0.5
   },
   {
    "key": "past_takeoff",
    "name": "Trunk past a take-off",
    "shape": "takeoff",
    "loss": 0.1
   },
   {
    "key": "wye",
    "name": "Wye",
    "shape": "takeoff",
    "loss": 0.3
   },
   {
    "key": "boot_straight",
    "name": "Boot, straight",
    "shape": "end",
    "loss": 0.5
   },
   {
    "key": "boot_turning",
    "name": "Boot, turning",
    "shape": "end",
    "loss": 1.1
   },
   {
    "key": "open_end",
    "name": "Open end",
    "shape": "end",
    "loss": 1.0
   },
   {
    "key": "hood_screen",
    "name": "Hood with screen",
    "shape": "end",
    "loss": 1.3
   },
   {
    "key": "narrowing",
    "name": "Sudden narrowing",
    "shape": "change",
    "loss": null
   },
   {
    "key": "widening",
    "name": "Sudden widening",
    "shape": "change",
    "loss": null
   }
  ],
  "walls": {
   "metal": "Sheet metal",
   "lined": "Lined",
   "flexible": "Flexible"
  },
  "dampers": {
   "none": "None",
   "blade": "Blade",
   "inflatable": "Inflatable"
  },
  "entries": [
   "duct_trunk",
   "duct_branch",
   "duct_gone",
   "ducts_taken",
   "duct_unit",
   "damper_turned",
   "room_surveyed",
   "balance_season",
   "zone",
   "zone_gone",
   "zone_hardware"
  ],
  "zone_entries": [
   "duct_trunk",
   "duct_branch",
   "duct_gone",
   "ducts_taken",
   "duct_unit",
   "damper_turned",
   "room_surveyed",
   "balance_season",
   "zone",
   "zone_gone",
   "zone_hardware",
   "zone_timetable",
   "zone_override",
   "zone_test"
  ],
  "zone_dampers": {
   "power": "Driven open and shut",
   "spring": "Driven, back by a spring",
   "inflatable": "Inflatable"
  },
  "most_deg": 67.5
 },
 "spaces": {
  "uses": {
   "office": "Office",
   "classroom": "Classroom",
   "library": "Library",
   "retail": "Shop",
   "assembly": "Assembly hall",
   "laboratory": "Laboratory",
   "workshop": "Workshop",
   "gym": "Gym",
   "dining": "Dining room",
   "corridor": "Corridor"
  },
  "places": {
   "ceiling_cool": {
    "name": "Ceiling supply, cooling",
    "effectiveness": 1.0
   },
   "ceiling_warm": {
    "name": "Ceiling supply, heating over 15 °F above the room, ceiling return",
    "effectiveness": 0.8
   },
   "floor_cool": {
    "name": "Floor supply, cooling, ceiling return",
    "effectiveness": 1.0
   },
   "floor_warm": {
    "name": "Floor supply, heating, floor return",
    "effectiveness": 1.0
   },
   "displacement": {
    "name": "Floor supply without mixing, ceiling return",
    "effectiveness": 1.2
   },
   "far_makeup": {
    "name": "Supply and return on opposite sides of the room, or supply close to the return",
    "effectiveness": 0.8
   }
  }
 },
 "systems": {
  "packaged_rooftop": {
   "name": "Packaged rooftop unit",
   "elements": [
    "grille",
    "mixing",
    "filter",
    "coil",
    "blower",
    "register"
   ],
   "plate": [
    {
     "key": "maker",
     "label": "Maker",
     "gives": ""
    },
    {
     "key": "model",
     "label": "Model",
     "gives": ""
    },
    {
     "key": "serial",
     "label": "Serial number",
     "gives": ""
    },
    {
     "key": "rated_total_w",
     "label": "Rated cooling, total",
     "gives": "Without it: no target to hold the cooling against.",
     "kind": "tonnage"
    },
    {
     "key": "rated_airflow_m3s",
     "label": "Rated airflow",
     "gives": "Without it: an ordinary flow is assumed, and the target split is less sure.",
     "kind": "airflow"
    },
    {
     "key": "rated_sensible_heat_ratio",
     "label": "Rated sensible heat ratio",
     "gives": "Without it: an ordinary ratio is assumed.",
     "kind": "ratio"
    },
    {
     "key": "max_external_static_pa",
     "label": "External static, most",
     "gives": "Without it: no verdict on the external static.",
     "kind": "pressure"
    },
    {
     "key": "refrigerant",
     "label": "Refrigerant",
     "gives": "Without it: no superheat or subcooling from gauge pressures.",
     "choices": {
      "R-410A": "R-410A",
      "R-32": "R-32",
      "R-454B": "R-454B",
      "R-22": "R-22",
      "R-134a": "R-134a"
     }
    },
    {
     "key": "metering",
     "label": "Metering device",
     "gives": "Without it: no target superheat.",
     "choices": {
      "restrictor": "fixed restrictor",
      "valve": "expansion valve"
     }
    },
    {
     "key": "subcooling_k",
     "label": "Subcooling",
     "gives": "Without it: an ordinary subcooling is assumed.",
     "kind": "temperature_difference"
    },
    {
     "key": "compressor_current_a",
     "label": "Compressor current",
     "gives": "",
     "kind": "current"
    },
    {
     "key": "filter_change_pa",
     "label": "Change the filter at",
     "gives": "",
     "kind": "pressure"
    },
    {
     "key": "reheat",
     "label": "Reheat coil",
     "gives": "",
     "choices": {
      "hot_gas": "hot refrigerant gas",
      "electric": "electric",
      "hot_water": "hot water"
     }
    },
    {
     "key": "reheat_w",
     "label": "Reheat, full heat",
     "gives": "",
     "kind": "power"
    },
    {
     "key": "reheat_modulates",
     "label": "Reheat can be turned down",
     "gives": "",
     "yes_no": "no"
    },
    {
     "key": "return_bypass",
     "label": "Return bypass around the coil",
     "gives": "",
     "yes_no": "no"
    },
    {
     "key": "economizer",
     "label": "Economizer",
     "gives": "Without it: no page for outdoor air.",
     "yes_no": "no"
    },
    {
     "key": "changeover",
     "label": "Changeover",
     "gives": "",
     "choices": {
      "fixed_dry_bulb": "fixed dry bulb",
      "differential_dry_bulb": "differential dry bulb",
      "fixed_enthalpy": "fixed enthalpy",
      "differential_enthalpy": "differential enthalpy"
     }
    },
    {
     "key": "controller",
     "label": "Controller",
     "gives": ""
    }
   ]
  },
  "furnace_with_coil": {
   "name": "Gas furnace",
   "elements": [
    "grille",
    "filter",
    "blower",
    "heat_exchanger",
    "coil",
    "register"
   ],
   "plate": [
    {
     "key": "maker",
     "label": "Maker",
     "gives": ""
    },
    {
     "key": "model",
     "label": "Model",
     "gives": ""
    },
    {
     "key": "serial",
     "label": "Serial number",
     "gives": ""
    },
    {
     "key": "rated_total_w",
     "label": "Rated cooling, total",
     "gives": "Without it: no target to hold the cooling against.",
     "kind": "tonnage"
    },
    {
     "key": "rated_airflow_m3s",
     "label": "Rated airflow",
     "gives": "Without it: an ordinary flow is assumed, and the target split is less sure.",
     "kind": "airflow"
    },
    {
     "key": "rated_sensible_heat_ratio",
     "label": "Rated sensible heat ratio",
     "gives": "Without it: an ordinary ratio is assumed.",
     "kind": "ratio"
    },
    {
     "key": "max_external_static_pa",
     "label": "External static, most",
     "gives": "Without it: no verdict on the external static.",
     "kind": "pressure"
    },
    {
     "key": "refrigerant",
     "label": "Refrigerant",
     "gives": "Without it: no superheat or subcooling from gauge pressures.",
     "choices": {
      "R-410A": "R-410A",
      "R-32": "R-32",
      "R-454B": "R-454B",
      "R-22": "R-22",
      "R-134a": "R-134a"
     }
    },
    {
     "key": "metering",
     "label": "Metering device",
     "gives": "Without it: no target superheat.",
     "choices": {
      "restrictor": "fixed restrictor",
      "valve": "expansion valve"
     }
    },
    {
     "key": "subcooling_k",
     "label": "Subcooling",
     "gives": "Without it: an ordinary subcooling is assumed.",
     "kind": "temperature_difference"
    },
    {
     "key": "compressor_current_a",
     "label": "Compressor current",
     "gives": "",
     "kind": "current"
    },
    {
     "key": "filter_change_pa",
     "label": "Change the filter at",
     "gives": "",
     "kind": "pressure"
    },
    {
     "key": "reheat",
     "label": "Reheat coil",
     "gives": "",
     "choices": {
      "hot_gas": "hot refrigerant gas",
      "electric": "electric",
      "hot_water": "hot water"
     }
    },
    {
     "key": "reheat_w",
     "label": "Reheat, full heat",
     "gives": "",
     "kind": "power"
    },
    {
     "key": "reheat_modulates",
     "label": "Reheat can be turned down",
     "gives": "",
     "yes_no": "no"
    },
    {
     "key": "return_bypass",
     "label": "Return bypass around the coil",
     "gives": "",
     "yes_no": "no"
    },
    {
     "key": "cooling_coil",
     "label": "Cooling coil",
     "gives": "",
     "yes_no": "yes"
    },
    {
     "key": "heating_input_w",
     "label": "Gas input",
     "gives": "Without it: no airflow from the temperature rise.",
     "kind": "power"
    },
    {
     "key": "heating_efficiency",
     "label": "Heating efficiency",
     "gives": "Without it: an ordinary efficiency is assumed.",
     "kind": "share"
    },
    {
     "key": "input_derated",
     "label": "Gas input lowered for the altitude",
     "gives": "",
     "choices": {
      "yes": "yes",
      "no": "no"
     }
    },
    {
     "key": "derate_share",
     "label": "Gas input less by, each 305 m (1,000 ft)",
     "gives": "",
     "kind": "share"
    },
    {
     "key": "rise_low_k",
     "label": "Temperature rise, least",
     "gives": "Without it: no verdict on the temperature rise.",
     "kind": "temperature_difference"
    },
    {
     "key": "rise_high_k",
     "label": "Temperature rise, most",
     "gives": "Without it: no verdict on the temperature rise.",
     "kind": "temperature_difference"
    },
    {
     "key": "max_outlet_c",
     "label": "Outlet air, most",
     "gives": "",
     "kind": "temperature"
    }
   ]
  },
  "split_heat_pump": {
   "name": "Split heat pump",
   "elements": [
    "grille",
    "filter",
    "coil",
    "blower",
    "register"
   ],
   "plate": [
    {
     "key": "maker",
     "label": "Maker",
     "gives": ""
    },
    {
     "key": "model",
     "label": "Model",
     "gives": ""
    },
    {
     "key": "serial",
     "label": "Serial number",
     "gives": ""
    },
    {
     "key": "rated_total_w",
     "label": "Rated cooling, total",
     "gives": "Without it: no target to hold the cooling against.",
     "kind": "tonnage"
    },
    {
     "key": "rated_airflow_m3s",
     "label": "Rated airflow",
     "gives": "Without it: an ordinary flow is assumed, and the target split is less sure.",
     "kind": "airflow"
    },
    {
     "key": "rated_sensible_heat_ratio",
     "label": "Rated sensible heat ratio",
     "gives": "Without it: an ordinary ratio is assumed.",
     "kind": "ratio"
    },
    {
     "key": "max_external_static_pa",
     "label": "External static, most",
     "gives": "Without it: no verdict on the external static.",
     "kind": "pressure"
    },
    {
     "key": "refrigerant",
     "label": "Refrigerant",
     "gives": "Without it: no superheat or subcooling from gauge pressures.",
     "choices": {
      "R-410A": "R-410A",
      "R-32": "R-32",
      "R-454B": "R-454B",
      "R-22": "R-22",
      "R-134a": "R-134a"
     }
    },
    {
     "key": "metering",
     "label": "Metering device",
     "gives": "Without it: no target superheat.",
     "choices": {
      "restrictor": "fixed restrictor",
      "valve": "expansion valve"
     }
    },
    {
     "key": "subcooling_k",
     "label": "Subcooling",
     "gives": "Without it: an ordinary subcooling is assumed.",
     "kind": "temperature_difference"
    },
    {
     "key": "compressor_current_a",
     "label": "Compressor current",
     "gives": "",
     "kind": "current"
    },
    {
     "key": "filter_change_pa",
     "label": "Change the filter at",
     "gives": "",
     "kind": "pressure"
    },
    {
     "key": "reheat",
     "label": "Reheat coil",
     "gives": "",
     "choices": {
      "hot_gas": "hot refrigerant gas",
      "electric": "electric",
      "hot_water": "hot water"
     }
    },
    {
     "key": "reheat_w",
     "label": "Reheat, full heat",
     "gives": "",
     "kind": "power"
    },
    {
     "key": "reheat_modulates",
     "label": "Reheat can be turned down",
     "gives": "",
     "yes_no": "no"
    },
    {
     "key": "return_bypass",
     "label": "Return bypass around the coil",
     "gives": "",
     "yes_no": "no"
    },
    {
     "key": "rated_heating_w",
     "label": "Rated heating",
     "gives": "Without it: no target for heating.",
     "kind": "power"
    },
    {
     "key": "heater_w",
     "label": "Electric heater, all elements",
     "gives": "Without it: a dead element of the heater can't be told by its power.",
     "kind": "power"
    },
    {
     "key": "night_cooling",
     "label": "Night cooling damper",
     "gives": "",
     "yes_no": "no"
    }
   ]
  },
  "dwelling_ventilator": {
   "name": "Dwelling ventilator",
   "elements": [
    "outside",
    "filter",
    "blower",
    "register"
   ],
   "plate": [
    {
     "key": "maker",
     "label": "Maker",
     "gives": ""
    },
    {
     "key": "model",
     "label": "Model",
     "gives": ""
    },
    {
     "key": "serial",
     "label": "Serial number",
     "gives": ""
    },
    {
     "key": "rated_airflow_m3s",
     "label": "Rated airflow",
     "gives": "Without it: an ordinary flow is assumed, and the target split is less sure.",
     "kind": "airflow"
    },
    {
     "key": "heat_recovery",
     "label": "Heat recovery",
     "gives": "",
     "yes_no": "no"
    }
   ]
  }
 },
 "climate_zones": [
  "0A",
  "0B",
  "1A",
  "1B",
  "2A",
  "2B",
  "3A",
  "3B",
  "3C",
  "4A",
  "4B",
  "4C",
  "5A",
  "5B",
  "5C",
  "6A",
  "6B",
  "7",
  "8"
 ],
 "accuracy_classes": {
  "air_fine": {
   "name": "Air probe, fine",
   "kind": "thermo_hygrometer",
   "accuracy": {
    "dry_bulb": {
     "plus_minus": 0.2,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.1
    },
    "relative_humidity": {
     "plus_minus": 0.015,
     "share": 0.0,
     "resolution": 0.001,
     "repeatability": 0.005
    },
    "wet_bulb": {
     "plus_minus": 0.3,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.1
    },
    "dew_point": {
     "plus_minus": 0.5,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.2
    }
   }
  },
  "air_field": {
   "name": "Air probe, field",
   "kind": "thermo_hygrometer",
   "accuracy": {
    "dry_bulb": {
     "plus_minus": 0.3,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.1
    },
    "relative_humidity": {
     "plus_minus": 0.02,
     "share": 0.0,
     "resolution": 0.01,
     "repeatability": 0.005
    },
    "wet_bulb": {
     "plus_minus": 0.4,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.1
    },
    "dew_point": {
     "plus_minus": 0.6,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.2
    }
   }
  },
  "air_plain": {
   "name": "Air probe, plain",
   "kind": "thermo_hygrometer",
   "accuracy": {
    "dry_bulb": {
     "plus_minus": 0.5,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.2
    },
    "relative_humidity": {
     "plus_minus": 0.03,
     "share": 0.0,
     "resolution": 0.01,
     "repeatability": 0.01
    },
    "wet_bulb": {
     "plus_minus": 0.6,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.2
    },
    "dew_point": {
     "plus_minus": 0.9,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.3
    }
   }
  },
  "sling": {
   "name": "Sling psychrometer",
   "kind": "psychrometer",
   "accuracy": {
    "dry_bulb": {
     "plus_minus": 0.3,
     "share": 0.0,
     "resolution": 0.5,
     "repeatability": 0.2
    },
    "wet_bulb": {
     "plus_minus": 0.3,
     "share": 0.0,
     "resolution": 0.5,
     "repeatability": 0.2
    }
   }
  },
  "clamp": {
   "name": "Pipe clamp",
   "kind": "pipe_clamp",
   "accuracy": {
    "pipe_temperature": {
     "plus_minus": 0.5,
     "share": 0.0,
     "resolution": 0.1,
     "repeatability": 0.2
    }
   }
  },
  "manometer": {
   "name": "Manometer",
   "kind": "manometer",
   "accuracy": {
    "static_pressure": {
     "plus_minus": 1.0,
     "share": 0.01,
     "resolution": 0.1,
     "repeatability": 2.0
    }
   }
  },
  "gauges": {
   "name": "Refrigerant gauges",
   "kind": "gauges",
   "accuracy": {
    "gauge_pressure": {
     "plus_minus": 7000.0,
     "share": 0.01,
     "resolution": 1000.0,
     "repeatability": 3000.0
    }
   }
  },
  "hood": {
   "name": "Flow hood",
   "kind": "flow_hood",
   "accuracy": {
    "airflow": {
     "plus_minus": 0.02,
     "share": 0.03,
     "resolution": 0.001,
     "repeatability": 0.0
    }
   }
  },
  "register_hood": {
   "name": "Register hood",
   "kind": "flow_hood",
   "accuracy": {
    "airflow": {
     "plus_minus": 0.0015,
     "share": 0.03,
     "resolution": 0.0001,
     "repeatability": 0.0
    }
   }
  },
  "vane": {
   "name": "Vane anemometer",
   "kind": "anemometer",
   "accuracy": {
    "velocity": {
     "plus_minus": 0.1,
     "share": 0.03,
     "resolution": 0.01,
     "repeatability": 0.3
    }
   }
  },
  "power": {
   "name": "Power meter",
   "kind": "power_meter",
   "accuracy": {
    "electric_power": {
     "plus_minus": 5.0,
     "share": 0.02,
     "resolution": 1.0,
     "repeatability": 40.0
    },
    "voltage": {
     "plus_minus": 1.0,
     "share": 0.01,
     "resolution": 0.1,
     "repeatability": 0.5
    },
    "current": {
     "plus_minus": 0.1,
     "share": 0.02,
     "resolution": 0.1,
     "repeatability": 0.1
    }
   }
  }
 }
};
