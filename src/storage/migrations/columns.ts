import { DataTypes } from 'sequelize';

// A fresh object for each column: the library writes the column's name into it.
export const text = () => ({ type: DataTypes.TEXT, allowNull: false });
export const whole = () => ({ type: DataTypes.INTEGER, allowNull: false });
export const number = () => ({ type: DataTypes.DOUBLE, allowNull: true });
export const date = () => ({ type: DataTypes.DATE, allowNull: false });
export const numbered = () => ({ type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true });
