"""Words that devices of many languages write over their columns; a part is kept back for the sealed third."""

from typing import Final

from kunstflug.documents.columns import Role

Words = dict[Role, tuple[str, ...]]

OPEN: Final[dict[str, Words]] = {
    "en": {
        Role.TIME: ("Time", "time", "Elapsed", "Timestamp"), Role.DATE: ("Date", "date"),
        Role.LATITUDE: ("Latitude", "lat", "Lat."), Role.LONGITUDE: ("Longitude", "lon", "Lng"),
        Role.SPEED: ("Speed", "GPS Speed", "gspeed", "SOG"), Role.ELEVATION: ("Altitude", "ele", "Elevation"),
        Role.VOLTAGE: ("Voltage", "Battery Voltage", "Vbat", "Pack volts"),
        Role.CURRENT: ("Current", "Battery Current", "Amps", "Ibat"),
        Role.RPM: ("RPM", "Motor RPM", "Revs"), Role.THROTTLE: ("Throttle", "Duty", "Throttle out"),
        Role.CONTROLLER_TEMPERATURE: ("ESC Temp", "Controller temperature", "FET temp"),
        Role.MOTOR_TEMPERATURE: ("Motor Temp", "Motor temperature", "Temp motor"),
        Role.CHARGE: ("Capacity", "Consumed", "Used charge"), Role.CELL: ("Cell {}", "cell{}"),
    },
    "de": {
        Role.TIME: ("Zeit", "Uhrzeit", "Laufzeit"), Role.DATE: ("Datum",),
        Role.LATITUDE: ("Breite", "Breitengrad"), Role.LONGITUDE: ("Länge", "Längengrad"),
        Role.SPEED: ("Geschwindigkeit", "GPS-Geschwindigkeit", "Tempo"), Role.ELEVATION: ("Höhe",),
        Role.VOLTAGE: ("Spannung", "Akkuspannung"), Role.CURRENT: ("Strom", "Akkustrom"),
        Role.RPM: ("Drehzahl", "Motordrehzahl"), Role.THROTTLE: ("Gas", "Gasstellung"),
        Role.CONTROLLER_TEMPERATURE: ("Regler Temperatur", "Reglertemperatur", "Temp. Steller"),
        Role.MOTOR_TEMPERATURE: ("Motor Temperatur", "Motortemperatur"),
        Role.CHARGE: ("Verbrauch", "Kapazität", "Ladung"), Role.CELL: ("Zelle {}", "Zelle{}"),
    },
    "fr": {
        Role.TIME: ("Temps", "Heure"), Role.DATE: ("Date",), Role.LATITUDE: ("Latitude",),
        Role.LONGITUDE: ("Longitude",), Role.SPEED: ("Vitesse", "Vitesse GPS"), Role.ELEVATION: ("Altitude",),
        Role.VOLTAGE: ("Tension", "Tension batterie"), Role.CURRENT: ("Courant", "Courant batterie"),
        Role.RPM: ("Régime", "Tours"), Role.THROTTLE: ("Gaz",),
        Role.CONTROLLER_TEMPERATURE: ("Température contrôleur", "Temp. variateur"),
        Role.MOTOR_TEMPERATURE: ("Température moteur",), Role.CHARGE: ("Capacité", "Consommation"),
        Role.CELL: ("Cellule {}", "Elément {}"),
    },
    "es": {
        Role.TIME: ("Tiempo", "Hora"), Role.DATE: ("Fecha",), Role.LATITUDE: ("Latitud",),
        Role.LONGITUDE: ("Longitud",),
        Role.SPEED: ("Velocidad",), Role.ELEVATION: ("Altura", "Altitud"), Role.VOLTAGE: ("Voltaje", "Tensión"),
        Role.CURRENT: ("Corriente",), Role.RPM: ("Revoluciones",), Role.THROTTLE: ("Acelerador",),
        Role.CONTROLLER_TEMPERATURE: ("Temperatura variador",), Role.MOTOR_TEMPERATURE: ("Temperatura motor",),
        Role.CHARGE: ("Capacidad", "Consumo"), Role.CELL: ("Celda {}",),
    },
    "it": {
        Role.TIME: ("Tempo", "Ora"), Role.DATE: ("Data",), Role.LATITUDE: ("Latitudine",),
        Role.LONGITUDE: ("Longitudine",), Role.SPEED: ("Velocità",), Role.ELEVATION: ("Altezza", "Quota"),
        Role.VOLTAGE: ("Tensione",), Role.CURRENT: ("Corrente",), Role.RPM: ("Giri",), Role.THROTTLE: ("Acceleratore",),
        Role.CONTROLLER_TEMPERATURE: ("Temperatura regolatore",), Role.MOTOR_TEMPERATURE: ("Temperatura motore",),
        Role.CHARGE: ("Capacità", "Consumo"), Role.CELL: ("Cella {}",),
    },
    "nl": {
        Role.TIME: ("Tijd",), Role.DATE: ("Datum",), Role.LATITUDE: ("Breedtegraad",), Role.LONGITUDE: ("Lengtegraad",),
        Role.SPEED: ("Snelheid",), Role.ELEVATION: ("Hoogte",), Role.VOLTAGE: ("Spanning", "Accuspanning"),
        Role.CURRENT: ("Stroom",), Role.RPM: ("Toerental",), Role.THROTTLE: ("Gas",),
        Role.CONTROLLER_TEMPERATURE: ("Regelaar temperatuur", "Regelaartemperatuur"),
        Role.MOTOR_TEMPERATURE: ("Motortemperatuur",), Role.CHARGE: ("Verbruik", "Capaciteit"), Role.CELL: ("Cel {}",),
    },
    "pl": {
        Role.TIME: ("Czas",), Role.DATE: ("Data",), Role.LATITUDE: ("Szerokość",), Role.LONGITUDE: ("Długość",),
        Role.SPEED: ("Prędkość",), Role.ELEVATION: ("Wysokość",), Role.VOLTAGE: ("Napięcie",), Role.CURRENT: ("Prąd",),
        Role.RPM: ("Obroty",), Role.THROTTLE: ("Przepustnica", "Gaz"),
        Role.CONTROLLER_TEMPERATURE: ("Temperatura regulatora",), Role.MOTOR_TEMPERATURE: ("Temperatura silnika",),
        Role.CHARGE: ("Pojemność", "Zużycie"), Role.CELL: ("Ogniwo {}",),
    },
    "cs": {
        Role.TIME: ("Čas",), Role.DATE: ("Datum",), Role.LATITUDE: ("Šířka",), Role.LONGITUDE: ("Délka",),
        Role.SPEED: ("Rychlost",), Role.ELEVATION: ("Výška",), Role.VOLTAGE: ("Napětí",), Role.CURRENT: ("Proud",),
        Role.RPM: ("Otáčky",), Role.THROTTLE: ("Plyn",), Role.CONTROLLER_TEMPERATURE: ("Teplota regulátoru",),
        Role.MOTOR_TEMPERATURE: ("Teplota motoru",), Role.CHARGE: ("Kapacita", "Spotřeba"), Role.CELL: ("Článek {}",),
    },
    "pt": {
        Role.TIME: ("Tempo", "Hora"), Role.DATE: ("Data",), Role.LATITUDE: ("Latitude",),
        Role.LONGITUDE: ("Longitude",),
        Role.SPEED: ("Velocidade",), Role.ELEVATION: ("Altitude",), Role.VOLTAGE: ("Tensão",),
        Role.CURRENT: ("Corrente",),
        Role.RPM: ("Rotações",), Role.THROTTLE: ("Acelerador",),
        Role.CONTROLLER_TEMPERATURE: ("Temperatura do controlador",),
        Role.MOTOR_TEMPERATURE: ("Temperatura do motor",), Role.CHARGE: ("Capacidade", "Consumo"),
        Role.CELL: ("Célula {}",),
    },
    "sv": {
        Role.TIME: ("Tid",), Role.DATE: ("Datum",), Role.LATITUDE: ("Latitud",), Role.LONGITUDE: ("Longitud",),
        Role.SPEED: ("Hastighet", "Fart"), Role.ELEVATION: ("Höjd",), Role.VOLTAGE: ("Spänning",),
        Role.CURRENT: ("Ström",), Role.RPM: ("Varvtal",), Role.THROTTLE: ("Gas",),
        Role.CONTROLLER_TEMPERATURE: ("Regulator temperatur",), Role.MOTOR_TEMPERATURE: ("Motortemperatur",),
        Role.CHARGE: ("Kapacitet", "Förbrukning"), Role.CELL: ("Cell {}",),
    },
    "da": {
        Role.TIME: ("Tid",), Role.DATE: ("Dato",), Role.LATITUDE: ("Bredde", "Breddegrad"),
        Role.LONGITUDE: ("Længde", "Længdegrad"), Role.SPEED: ("Hastighed", "Fart"), Role.ELEVATION: ("Højde",),
        Role.VOLTAGE: ("Spænding",), Role.CURRENT: ("Strøm",), Role.RPM: ("Omdrejninger", "Omdr."),
        Role.THROTTLE: ("Gas",), Role.CONTROLLER_TEMPERATURE: ("Regulator temperatur",),
        Role.MOTOR_TEMPERATURE: ("Motortemperatur",), Role.CHARGE: ("Kapacitet", "Forbrug"), Role.CELL: ("Celle {}",),
    },
}  # fmt: skip

SEALED: Final[dict[str, Words]] = {
    "en": {
        Role.TIME: ("Clock", "t", "Log time"), Role.LATITUDE: ("gps_lat", "Position latitude"),
        Role.LONGITUDE: ("gps_lon", "Position longitude"), Role.SPEED: ("Ground speed", "GroundSpeed", "Velocity"),
        Role.VOLTAGE: ("Main voltage", "BatteryVoltage", "U"), Role.CURRENT: ("Main current", "BatteryCurrent", "I"),
        Role.RPM: ("Revolutions", "Shaft rpm"), Role.THROTTLE: ("Throttle position", "thr"),
        Role.CONTROLLER_TEMPERATURE: ("T ESC", "EscTemp"), Role.MOTOR_TEMPERATURE: ("T motor", "MotorTemp"),
        Role.CHARGE: ("mAh used", "Charge used"), Role.CELL: ("Cell voltage {}", "C{}"),
    },
    "de": {
        Role.TIME: ("Zeitstempel", "Zeitpunkt"), Role.LATITUDE: ("Geogr. Breite",), Role.LONGITUDE: ("Geogr. Länge",),
        Role.SPEED: ("Fahrt über Grund", "Bootsgeschwindigkeit"), Role.VOLTAGE: ("Batteriespannung", "Spannung Akku"),
        Role.CURRENT: ("Batteriestrom", "Strom Akku"), Role.RPM: ("Umdrehungen", "Drehzahl Motor"),
        Role.THROTTLE: ("Gasgriff",), Role.CONTROLLER_TEMPERATURE: ("Temperatur Regler",),
        Role.MOTOR_TEMPERATURE: ("Temperatur Motor",), Role.CHARGE: ("Entnommene Ladung",),
        Role.CELL: ("Zellspannung {}",),
    },
    "fr": {Role.TIME: ("Horodatage",), Role.VOLTAGE: ("Tension accu",), Role.CURRENT: ("Intensité",),
    Role.RPM: ("Tr/min",)},
    "es": {Role.VOLTAGE: ("Tensión batería",), Role.CURRENT: ("Intensidad",), Role.RPM: ("RPM motor",)},
    "it": {Role.VOLTAGE: ("Tensione batteria",), Role.RPM: ("Giri motore",), Role.TIME: ("Orario",)},
    "nl": {Role.TIME: ("Tijdstip",), Role.RPM: ("Motortoerental",), Role.CURRENT: ("Accustroom",)},
    "pl": {Role.VOLTAGE: ("Napięcie pakietu",), Role.RPM: ("Obroty silnika",), Role.LATITUDE: ("Szer. geogr.",),
    Role.LONGITUDE: ("Dł. geogr.",)},
    "cs": {Role.VOLTAGE: ("Napětí baterie",), Role.RPM: ("Otáčky motoru",)},
    "pt": {Role.RPM: ("Rotação do motor",), Role.CURRENT: ("Corrente da bateria",)},
    "sv": {Role.VOLTAGE: ("Batterispänning",), Role.TIME: ("Tidpunkt",)},
    "da": {Role.VOLTAGE: ("Batterispænding",), Role.TIME: ("Tidspunkt",)},
}  # fmt: skip
"""Written down before the reading was changed, and looked at once at its end."""

BESIDE: Final = {
    "track": ("Satellites", "HDOP", "Course", "Fix", "Heading (deg)", "hAcc"),
    "log": ("BEC Voltage", "Phase Current", "Power (W)", "Event", "Timing", "Ripple (V)"),
    "charge": ("Power (W)", "Resistance (mOhm)", "State", "Internal temp"),
    "radio": ("RSSI", "Rx voltage", "Link quality", "Vertical speed", "LQ(%)"),
}
"""Columns that are none of the roles, in the words of devices."""
