CREATE TABLE sign_in_attempt (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sign_in VARCHAR(80) NOT NULL,
  address VARCHAR(45) NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY sign_in_attempt_who (sign_in, at),
  KEY sign_in_attempt_from (address, at)
)
